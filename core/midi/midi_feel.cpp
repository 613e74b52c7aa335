#include "midi/midi_feel.h"

#include "midi/tempo_map.h"

#include <algorithm>
#include <cmath>

namespace lampo {
namespace {

constexpr double gridQuarters = 0.25;

struct Note {
    std::int64_t tick;
    int velocity; ///< 1 to 127
};

std::vector<Note> notesOf(const MidiFile& file) {
    std::vector<Note> notes;
    for (const auto& track : file.tracks)
        for (const MidiEvent& event : track)
            if ((event.status & 0xF0) == 0x90 && event.data.size() == 2 && event.data[1] != 0)
                notes.push_back({event.tick, event.data[1] & 0x7F});
    return notes;
}

double barQuarters(const MidiFile& file) {
    for (const auto& track : file.tracks)
        for (const MidiEvent& event : track)
            if (const auto meter = meterIn(event); meter && event.tick == 0)
                return 4 * meter->barInWholes();
    return 4;
}

/// Velocity 127 of the loudest strokes is a typical strong hit.
double strongVelocity(const std::vector<Note>& notes) {
    std::vector<int> velocities;
    velocities.reserve(notes.size());
    for (const Note& note : notes)
        velocities.push_back(note.velocity);
    const auto at = velocities.begin() + static_cast<std::ptrdiff_t>(velocities.size() * 9 / 10);
    std::nth_element(velocities.begin(), at, velocities.end());
    return *at;
}

} // namespace

Expected<Feel> feelOfMidi(const MidiFile& file, std::string name, const std::string& named) {
    const auto notes = notesOf(file);
    if (notes.empty())
        return fail(ErrorKind::badValue, named + " has no notes to take a feel of");
    const double bar = std::clamp(barQuarters(file), 0.125, longestFeelBar);
    const double strong = strongVelocity(notes);
    std::vector<FeltHit> hits;
    for (const Note& note : notes) {
        const double quarters = static_cast<double>(note.tick) / file.ticksPerQuarter;
        const double line = std::round(quarters / gridQuarters) * gridQuarters;
        hits.push_back({line, quarters - line, {20 * std::log10(note.velocity / strong)}});
    }
    Feel feel = feelOf(std::move(name), bar, hits);
    if (!isFeel(feel))
        return fail(ErrorKind::badValue, named + " has too many different places to be a feel");
    return feel;
}

} // namespace lampo
