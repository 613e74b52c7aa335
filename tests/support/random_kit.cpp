#include "support/random_kit.h"

#include "support/random_player.h"
#include "support/random_sounds.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <mutex>
#include <numbers>
#include <tuple>

namespace lampo::test {
namespace {

using Sound = std::vector<float>;

struct Path {
    double gain = 0;                               ///< amplitude, of a strong stroke whose own peak is 1
    double delay = 0;                              ///< frames
    double brightness = 1;                         ///< of a one-pole low pass, 0 to 1
    double thinness = 0;                           ///< of a one-pole high pass, 0 to 1
    std::vector<std::pair<double, double>> echoes; ///< frames behind the direct sound, gain
};

struct Place {
    std::string stem;
    std::optional<Voice> own;
    double gain = 1;
    std::array<Path, voices> from;
};

double amplitude(double decibels) {
    return std::pow(10.0, decibels / 20);
}

/// dB against a strong stroke of the mic's own drum; common practice, no source.
double bleedLevel(Dice& dice, int tightness, Voice drum, std::optional<Voice> own) {
    if (!own)
        return dice.between(-10, 0);
    if (tightness == 2)
        return dice.between(-14, -8);
    if (*own == kick)
        return dice.between(-30, -20);
    if (*own == hat || *own == ride)
        return drum == snare ? dice.between(-15, -6) : dice.between(-24, -10);
    if (drum == kick)
        return dice.between(-30, -20);
    return tightness == 1 ? dice.between(-25, -14) : dice.between(-30, -18);
}

Path drawPath(Dice& dice, int tightness, Voice drum, const Place& place, int rate) {
    Path path;
    if (place.own == drum && (place.stem.ends_with("in") || place.stem.ends_with("top") || drum > snare))
        return {1, 0, 1, 0, {}};
    const bool second = place.own == drum;
    path.gain = amplitude(second ? dice.between(-6, 0) : bleedLevel(dice, tightness, drum, place.own));
    const double metres = second      ? dice.between(0.1, 0.35)
                          : place.own ? dice.between(0.25, 1.3)
                                      : dice.between(0.6, 1.6);
    path.delay = metres / 343 * rate;
    path.brightness = dice.between(0.35, 1);
    path.thinness = dice.chance(0.3) ? dice.between(0, 0.05) : 0;
    for (int echo = dice.upTo(3); echo > 0; --echo)
        path.echoes.emplace_back(dice.between(1.5, 16) / 1000 * rate,
                                 path.gain * amplitude(dice.between(-14, -5)) * (dice.chance(0.5) ? -1 : 1));
    if (dice.chance(0.5))
        path.gain = -path.gain;
    return path;
}

std::vector<Place> drawPlaces(Dice& dice, int tightness, bool hasRide, int rate) {
    std::vector<Place> places;
    const auto add = [&](std::string stem, std::optional<Voice> own) {
        Place place{std::move(stem), own, amplitude(dice.between(-14, -3)), {}};
        for (std::size_t drum = 0; drum < voices; ++drum)
            place.from[drum] = drawPath(dice, tightness, static_cast<Voice>(drum), place, rate);
        places.push_back(std::move(place));
    };
    add(voiceNames[kick], kick);
    if (dice.chance(0.3))
        add("kick out", kick);
    add(voiceNames[snare], snare);
    if (dice.chance(0.3))
        add("snare bottom", snare);
    for (const Voice tom : {tomHigh, tomMid, floorTom})
        add(voiceNames[tom], tom);
    if (dice.chance(0.8))
        add(voiceNames[hat], hat);
    if (hasRide && dice.chance(0.4))
        add(voiceNames[ride], ride);
    add("oh l", {});
    add("oh r", {});
    return places;
}

/// A stroke a little unlike every other: read at another speed (Catmull and Rom's cubic; textbook).
Sound resampled(const Sound& sound, double speed, double offset) {
    Sound out(static_cast<std::size_t>(static_cast<double>(sound.size()) / speed));
    const auto at = [&](std::ptrdiff_t i) {
        return i < 0 || i >= static_cast<std::ptrdiff_t>(sound.size()) ? 0.0F : sound[static_cast<std::size_t>(i)];
    };
    for (std::size_t i = 0; i < out.size(); ++i) {
        const double place = static_cast<double>(i) * speed - offset;
        const auto whole = static_cast<std::ptrdiff_t>(std::floor(place));
        const auto x = static_cast<float>(place - static_cast<double>(whole));
        const float a = at(whole - 1), b = at(whole), c = at(whole + 1), d = at(whole + 2);
        out[i] = b + 0.5F * x * (c - a + x * (2 * a - 5 * b + 4 * c - d + x * (3 * (b - c) + d - a)));
    }
    return out;
}

Sound coloured(const Sound& sound, const Path& path, float gain) {
    Sound out(sound.size());
    float low = 0, slow = 0;
    for (std::size_t i = 0; i < sound.size(); ++i) {
        low += static_cast<float>(path.brightness) * (sound[i] - low);
        slow += static_cast<float>(path.thinness) * (low - slow);
        out[i] = gain * (path.thinness > 0 ? low - slow : low);
    }
    return out;
}

void mix(std::vector<float>& mic, const Sound& sound, std::int64_t at, float gain) {
    const auto first = std::max<std::int64_t>(0, -at);
    const auto last = std::min(static_cast<std::int64_t>(sound.size()), static_cast<std::int64_t>(mic.size()) - at);
    for (std::int64_t i = first; i < last; ++i)
        mic[static_cast<std::size_t>(at + i)] += gain * sound[static_cast<std::size_t>(i)];
}

std::int64_t firstAbove(const Sound& sound, double decibels) {
    const float limit = peakOf(sound) * static_cast<float>(amplitude(decibels));
    return std::find_if(sound.begin(), sound.end(), [&](float x) { return std::abs(x) > limit; }) - sound.begin();
}

/// A kick's mic that has what is low of everything, and a snare's that has the rest; perhaps a tom's.
std::vector<Place> partedPlaces(Dice& dice, bool withTom) {
    std::vector<Place> places;
    std::array<Path, voices> same;
    for (Path& path : same)
        path = {0.5 * amplitude(dice.between(-6, 0)), 0, 1, 0, {}};
    for (const Voice own : {kick, snare, tomHigh}) {
        if (own == tomHigh && !withTom)
            continue;
        places.push_back({voiceNames[own], own, 0.7, same});
    }
    return places;
}

/// At some frequency, by two one-pole low passes.
void part(RandomKit& kit, Dice& dice) {
    const double step = 1 - std::exp(-2 * std::numbers::pi * dice.between(120, 320) / kit.rate);
    const double whole = dice.between(0, 0.05);
    const Sound mix = kit.mics.front();
    Sound low = mix;
    for (int pole = 0; pole < 2; ++pole) {
        double state = 0;
        for (float& sample : low)
            sample = static_cast<float>(state += step * (sample - state));
    }
    for (std::size_t i = 0; i < mix.size(); ++i) {
        kit.mics[0][i] = low[i] + static_cast<float>(whole) * mix[i];
        kit.mics[1][i] = mix[i] - low[i];
        if (kit.mics.size() > 2)
            kit.mics[2][i] = 0.3F * mix[i];
    }
}

void bleedLouder(std::vector<Place>& places, double decibels) {
    for (Place& place : places)
        for (std::size_t drum = 0; place.own && drum < voices; ++drum) {
            Path& path = place.from[drum];
            if (*place.own == drum || path.gain == 0)
                continue;
            const double by = std::min(amplitude(decibels), std::max(1.0, amplitude(-2) / std::abs(path.gain)));
            path.gain *= by;
            for (auto& [behind, gain] : path.echoes)
                gain *= by;
        }
}

void leaveOut(std::vector<Place>& places, int missing, Dice& dice) {
    std::erase_if(places, [&](const Place& place) { return !place.own && missing-- > 0; });
    while (missing-- > 0 && places.size() > 2)
        places.erase(places.begin() + 1 + dice.upTo(static_cast<int>(places.size()) - 2));
}

void squash(RandomKit& kit, double decibels) {
    for (auto& mic : kit.mics) {
        float peak = 0;
        for (const float x : mic)
            peak = std::max(peak, std::abs(x));
        const float drive = static_cast<float>(amplitude(decibels)) / std::max(peak, 1e-6F);
        for (float& x : mic)
            x = std::tanh(drive * x) * peak;
    }
}

class Recorder {
public:
    Recorder(RandomKit& kit, std::vector<Place> places, std::array<std::vector<Sound>, voices> sounds, Dice& dice,
             double loose)
        : kit_(kit), places_(std::move(places)), sounds_(std::move(sounds)), dice_(dice), loose_(loose) {}

    void record(const std::vector<Note>& notes, const Player& player) {
        const double step = player.style.grid.ofWhole() * 240 / player.bpm * kit_.rate;
        const auto length = static_cast<std::size_t>(step * player.bars * player.style.steps + 2 * kit_.rate);
        kit_.mics.assign(places_.size(), std::vector<float>(length));
        for (const Place& place : places_)
            kit_.stems.push_back(place.stem);
        std::map<std::int64_t, double> together; // all limbs drift alike
        std::vector<std::int64_t> hats;
        for (const Note& note : notes) {
            const std::int64_t line = std::llround(std::round(note.step) * step);
            const auto [drift, isNew] = together.try_emplace(line, dice_.around(0, 3, 8));
            const bool time = note.voice == hat || note.voice == ride || note.voice == crash;
            double late = loose_ * drift->second +
                          loose_ * dice_.around(player.early[note.voice], time ? 3.5 : 2, time ? 6 : 4);
            if (note.grace)
                late -= dice_.between(20, 34);
            const std::int64_t at = line + std::llround(late / 1000 * kit_.rate);
            if (at > 0)
                strike(note, line, at);
            if (note.voice == hat)
                hats.push_back(at);
        }
        std::sort(hats.begin(), hats.end());
        for (TrueStroke& stroke : kit_.strokes) {
            const auto before = std::lower_bound(hats.begin(), hats.end(), stroke.at - kit_.rate * 13 / 1000);
            stroke.hatAhead = stroke.drum != hat && before != hats.end() && *before < stroke.at - kit_.rate / 2000;
        }
        std::sort(kit_.strokes.begin(), kit_.strokes.end(),
                  [](const TrueStroke& a, const TrueStroke& b) { return a.at < b.at; });
    }

private:
    void strike(const Note& note, std::int64_t line, std::int64_t at) {
        // The layer a player of this loudness would get, then exactly as loud as the note says.
        const auto& layers = sounds_[note.voice];
        std::size_t layer = 0;
        while (layer + 1 < layers.size() && 20 * std::log10(peakOf(layers[layer])) < note.level)
            ++layer;
        Sound sound = resampled(layers[layer], 1 + dice_.between(-0.015, 0.015), 0);
        const auto loud = static_cast<float>(amplitude(note.level)) / peakOf(sound);
        for (float& x : sound)
            x *= loud;
        kit_.strokes.push_back(
            {at, at + firstAbove(sound, -20), line, note.voice, note.level, note.ghost, note.grace, false});
        for (std::size_t mic = 0; mic < places_.size(); ++mic) {
            const Path& path = places_[mic].from[note.voice];
            const Sound heard = path.delay == 0 ? sound : coloured(sound, path, 1);
            const auto arrives = at + std::llround(path.delay);
            mix(kit_.mics[mic], heard, arrives, static_cast<float>(path.gain));
            for (const auto& [behind, gain] : path.echoes)
                mix(kit_.mics[mic], heard, arrives + std::llround(behind), static_cast<float>(gain));
        }
    }

    RandomKit& kit_;
    std::vector<Place> places_;
    std::array<std::vector<Sound>, voices> sounds_;
    Dice& dice_;
    double loose_;
};

/// Preamplifiers, noise, hum, clipping, a dead mic, a dropout.
void spoil(RandomKit& kit, const std::vector<Place>& places, Dice& dice) {
    const double noise = dice.between(-78, -50);
    const bool hums = dice.chance(0.2);
    const double hum = amplitude(dice.between(-60, -44));
    kit.what += ", noise " + std::to_string(std::lround(noise)) + (hums ? ", hum" : "");
    std::normal_distribution<float> white(0, static_cast<float>(amplitude(noise)));
    const bool clips = dice.chance(0.25), dead = dice.chance(0.12), drops = dice.chance(0.12);
    const auto mics = kit.mics.size();
    const std::size_t deadMic = mics > 4 && kit.stems[4].starts_with("snare b") ? 4 : mics - 1;
    const auto dropMic = mics < 3 ? mics : mics - 3;
    for (std::size_t mic = 0; mic < mics; ++mic) {
        const auto gain = static_cast<float>(places[mic].gain * (clips && !places[mic].own ? 6 : 1));
        for (std::size_t i = 0; i < kit.mics[mic].size(); ++i) {
            float& x = kit.mics[mic][i];
            const double phase = 2 * std::numbers::pi * 50 * static_cast<double>(i) / kit.rate;
            x = dead && mic == deadMic ? 0 : x * gain;
            if (drops && mic == dropMic && i > kit.mics[mic].size() / 2 &&
                i < kit.mics[mic].size() / 2 + static_cast<std::size_t>(kit.rate))
                x = 0;
            x += white(dice.engine());
            if (hums)
                x += static_cast<float>(hum * (std::sin(phase) + 0.4 * std::sin(3 * phase)));
            x = std::clamp(x, -1.0F, 1.0F);
        }
    }
    kit.what += std::string(clips ? ", clipped overheads" : "") + (dead ? ", a dead mic" : "") +
                (drops ? ", a dropout" : "");
}

} // namespace

bool RandomKit::idle(std::size_t drum) const {
    return std::none_of(strokes.begin(), strokes.end(), [&](const TrueStroke& s) { return s.drum == drum; });
}

namespace {

std::string describe(const Harshness& harsh) {
    std::string what;
    what += harsh.rolls ? ", rolls" : "";
    what += harsh.parted ? ", parted" : "";
    what += harsh.bleed > 0 ? ", bleed +" + std::to_string(std::lround(harsh.bleed)) : "";
    what += harsh.squash > 0 ? ", squashed " + std::to_string(std::lround(harsh.squash)) : "";
    what += harsh.missing > 0 ? ", without " + std::to_string(harsh.missing) + " mics" : "";
    return what;
}

} // namespace

Harshness harshnessOf(std::uint64_t seed) {
    Dice dice(seed * 104729 + 7);
    Harshness harsh;
    harsh.parted = dice.chance(0.2);
    harsh.sounds = dice.chance(0.4) ? KitSounds::oneShots : KitSounds::layers;
    harsh.rolls = dice.chance(0.4);
    harsh.bleed = dice.chance(0.4) ? dice.between(0, 10) : 0;
    harsh.squash = dice.chance(0.3) ? dice.between(0, 12) : 0;
    harsh.loose = dice.chance(0.5) ? dice.between(1, 3.5) : 1;
    harsh.preamps = dice.chance(0.5) ? dice.between(0, 14) : 0;
    harsh.missing = dice.chance(0.5) ? dice.upTo(6) : 0;
    return harsh;
}

RandomKit randomKit(std::uint64_t seed, double loose, const Harshness& harsh) {
    Dice dice(seed * 7919 + 13);
    RandomKit kit;
    constexpr std::array rates{44100, 44100, 44100, 48000, 48000, 48000, 96000};
    kit.rate = rates[static_cast<std::size_t>(dice.upTo(6))];
    Player player = drawPlayer(dice);
    player.rolls = harsh.rolls;
    kit.map.tempos.front().bpm = {player.bpm};
    kit.map.meters.front().meter = player.style.meter;
    kit.grid = player.style.grid;
    const int tightness = dice.chance(0.25) ? 2 : dice.chance(0.6) ? 1 : 0;
    kit.loudest = tightness == 2;
    kit.what = player.style.name + " at " + std::to_string(std::lround(player.bpm)) + ", " +
               std::to_string(kit.rate / 100) + " h, ";
    const auto sounds = drawSounds(dice, kit.rate, kit.what, harsh.sounds);
    if (sounds.front().empty())
        return {};
    kit.what += std::array{", tight", ", usual bleed", ", loud room"}[static_cast<std::size_t>(tightness)];
    if (player.idle.contains(snare))
        kit.what += ", idle snare";
    kit.what += player.idle.contains(tomHigh) && player.idle.contains(floorTom) ? ", idle toms" : "";
    kit.what += player.tomGroove ? ", tom groove" : "";
    kit.drums.assign(voiceNames.begin(), voiceNames.end());
    kit.landed = hat;
    auto places = drawPlaces(dice, tightness, player.onRide, kit.rate);
    if (harsh.parted)
        places = partedPlaces(dice, dice.chance(0.3));
    bleedLouder(places, harsh.bleed);
    if (harsh.preamps > 0)
        for (Place& place : places)
            place.gain *= amplitude(dice.between(-harsh.preamps, 0));
    leaveOut(places, harsh.missing, dice);
    Recorder(kit, places, sounds, dice, loose * harsh.loose).record(songOf(player, dice), player);
    if (harsh.parted)
        part(kit, dice);
    if (harsh.squash > 0)
        squash(kit, harsh.squash);
    kit.what += describe(harsh);
    spoil(kit, places, dice);
    return kit;
}

} // namespace lampo::test
