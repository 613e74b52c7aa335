#include "deliver/hits_midi.h"

#include "midi/tempo_map.h"
#include "midi/tick_clock.h"
#include "pipeline/hit_strokes.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <map>
#include <span>

namespace lampo {
namespace {

constexpr std::uint8_t noteOn = 0x99, noteOff = 0x89; ///< channel 10
constexpr std::int64_t longestNote = 120;             ///< ticks, a 32nd: drums have no length
constexpr int floorTom = 50;                          ///< from here on RoleGuess::number counts floor toms

/// Toms from the highest to the lowest, by their names; by their ranks where those say nothing.
std::vector<MicIndex> tomsOf(const Session& session, bool onTheFloor) {
    std::vector<MicIndex> toms;
    for (MicIndex mic; mic < session.mics.size(); ++mic)
        if (session.mics[mic].role == Role::tom &&
            (guessRole(session.mics[mic].stem).number >= floorTom) == onTheFloor)
            toms.push_back(mic);
    std::stable_sort(toms.begin(), toms.end(), [&](MicIndex a, MicIndex b) {
        return guessRole(session.mics[a].stem).number < guessRole(session.mics[b].stem).number;
    });
    return toms;
}

int keyOfTom(const Session& session, MicIndex mic) {
    constexpr std::array rack{50, 48, 47, 45};
    constexpr std::array onFloor{43, 41};
    const bool floor = guessRole(session.mics[mic].stem).number >= floorTom;
    const auto toms = tomsOf(session, floor);
    const auto keys = floor ? std::span<const int>(onFloor) : std::span<const int>(rack);
    const auto place = static_cast<std::size_t>(std::find(toms.begin(), toms.end(), mic) - toms.begin());
    return keys[std::min(place, keys.size() - 1)];
}

class Notes {
public:
    Notes(const Session& session, const Outcome& outcome, const MidiSettings& settings, MidiAs as)
        : session_(session), outcome_(outcome), settings_(settings), as_(as) {}

    std::vector<DrumNote> all() {
        for (std::size_t i = 0; i < outcome_.hits.size(); ++i)
            if (!outcome_.hits[i].bare)
                add(outcome_.hits[i], outcome_.landings[i]);
        std::stable_sort(notes_.begin(), notes_.end(),
                         [](const DrumNote& a, const DrumNote& b) { return a.at < b.at; });
        return std::move(notes_);
    }

private:
    void add(const SongHit& hit, const Landing& landing) {
        const ResultFrame anchor = as_ == MidiAs::landed ? landing.at : asResult(hit.anchor + hit.shift);
        const std::string drum =
            isOfItsMic(session_, hit) ? midiDrumOf(session_, *hit.mic) : std::string(name(hit.voice));
        addNote(drum, anchor, keyOf(hit), hit.level);
        std::vector<std::string> heard{drum};
        if (hit.mic)
            heard.push_back(midiDrumOf(session_, *hit.mic));
        for (MicIndex mic; mic < session_.mics.size(); ++mic) {
            if ((hit.detectedBy & onlyMic(mic)) == 0)
                continue;
            const std::string other = midiDrumOf(session_, mic);
            const Stroke* stroke = strokeOf(outcome_, hit, mic);
            if (!stroke || std::find(heard.begin(), heard.end(), other) != heard.end())
                continue;
            heard.push_back(other);
            addNote(other, anchor + (stroke->at - hit.anchor), keyOf(mic), stroke->level);
        }
    }
    void addNote(std::string drum, ResultFrame at, int key, Decibels level) {
        notes_.push_back({std::move(drum), std::max(at, ResultFrame{0}), key, velocityOf(settings_.curve, level)});
    }

    int keyOf(const SongHit& hit) const {
        return isOfItsMic(session_, hit) ? keyOf(*hit.mic) : usualKey(hit.voice);
    }
    int keyOf(MicIndex mic) const {
        const auto named = settings_.keys.find(session_.mics[mic].stem);
        return named == settings_.keys.end() ? usualKey(session_, mic) : named->second;
    }

    const Session& session_;
    const Outcome& outcome_;
    const MidiSettings& settings_;
    MidiAs as_;
    std::vector<DrumNote> notes_;
};

std::string dataOf(int key, int velocity) {
    return {static_cast<char>(key), static_cast<char>(velocity)};
}

/// One drum's notes; each ends before the next of its key begins.
std::vector<MidiEvent> trackOf(const std::string& drum, const std::vector<DrumNote>& notes, const TickClock& clock,
                               SampleRate rate) {
    std::vector<MidiEvent> track{{0, 0xFF, midi::trackName, drum}};
    std::map<int, std::int64_t> sounding; // by key: where its note ends
    const auto endUpTo = [&](std::int64_t tick) {
        while (!sounding.empty()) {
            const auto first = std::min_element(sounding.begin(), sounding.end(),
                                                [](auto& a, auto& b) { return a.second < b.second; });
            if (first->second > tick)
                return;
            track.push_back({first->second, noteOff, 0, dataOf(first->first, 64)});
            sounding.erase(first);
        }
    };
    for (const DrumNote& note : notes) {
        if (note.drum != drum)
            continue;
        const std::int64_t tick = clock.tickAt(toSeconds(note.at - ResultFrame{0}, rate));
        if (const auto same = sounding.find(note.key); same != sounding.end())
            same->second = std::min(same->second, tick);
        endUpTo(tick);
        track.push_back({tick, noteOn, 0, dataOf(note.key, note.velocity)});
        sounding[note.key] = tick + longestNote;
    }
    endUpTo(std::numeric_limits<std::int64_t>::max());
    return track;
}

} // namespace

std::string midiDrumOf(const Session& session, MicIndex mic) {
    const Mic& of = session.mics[mic];
    return of.group.empty() ? of.shownName() : of.group;
}

int velocityOf(const VelocityCurve& curve, Decibels level) {
    const double velocity = curve.strong * std::pow(10.0, level.value / (20 * curve.bend));
    return static_cast<int>(std::lround(std::clamp(velocity, 1.0, 127.0)));
}

int usualKey(Voice voice) {
    switch (voice) {
    case Voice::kick:
        return 36;
    case Voice::snare:
        return 38;
    case Voice::tom:
        return 47;
    case Voice::hat:
        return 42;
    case Voice::cymbal:
        return 49;
    case Voice::other:
        break;
    }
    return 37;
}

int usualKey(const Session& session, MicIndex mic) {
    const Role role = session.mics[mic].role;
    return role == Role::tom ? keyOfTom(session, mic) : usualKey(voiceOf(role));
}

std::vector<DrumNote> notesOf(const Session& session, const Outcome& outcome, const MidiSettings& settings,
                              MidiAs as) {
    return Notes(session, outcome, settings, as).all();
}

MidiFile hitsMidi(const Session& session, const Outcome& outcome, const MidiSettings& settings, MidiAs as) {
    const MusicalMap map(session.map, session.rate);
    MidiFile file = tempoMapFile(session.map, session.rate, map.barAt(SongFrame{session.length().frames}) + 1);
    const TickClock clock(file);
    const std::vector<DrumNote> notes = notesOf(session, outcome, settings, as);
    std::vector<std::string> drums;
    for (const DrumNote& note : notes)
        if (std::find(drums.begin(), drums.end(), note.drum) == drums.end())
            drums.push_back(note.drum);
    for (const std::string& drum : drums)
        file.tracks.push_back(trackOf(drum, notes, clock, session.rate));
    return file;
}

} // namespace lampo
