#include "demo_kit/acoustics.h"

#include "base/parallel.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

namespace lampo::demo {
namespace {

// Keeps filters that are fed silence out of the denormal numbers, which are very slow.
constexpr float inaudible = 1e-18F;

constexpr double speedOfSound = 343.0; // m/s in air at 20 °C, handbook value

struct DrumPlace {
    Point at;
    double loudness;  ///< amplitude at the reference distance, beside the snare
    double reference; ///< metres
};

DrumPlace placeOf(Drum drum) {
    switch (drum) {
    case Drum::kick:
        return {{0.0, 0.0, 0.3}, 1.0, 0.10};
    case Drum::snare:
        return {{-0.3, 0.55, 0.65}, 1.0, 0.06};
    case Drum::tomRack:
        return {{-0.1, 0.15, 0.85}, 0.9, 0.06};
    case Drum::tomFloor:
        return {{0.55, 0.45, 0.6}, 0.95, 0.07};
    case Drum::hat:
        return {{-0.75, 0.6, 0.95}, 0.28, 0.10};
    case Drum::ride:
        return {{0.6, 0.0, 1.15}, 0.22, 0.15};
    case Drum::crash:
        return {{-0.5, -0.1, 1.3}, 0.45, 0.15};
    case Drum::sticks:
        return {{-0.2, 0.7, 1.1}, 0.25, 0.15};
    }
    return {};
}

double distance(Point a, Point b) {
    return std::hypot(a.x - b.x, a.y - b.y, a.z - b.z);
}

/// How strongly and how dully a mic hears a drum.
struct Path {
    double gain;
    double cutoff; ///< Hz
    std::int64_t delay;
};

Path pathOf(Drum drum, const ModelMic& mic, int rate) {
    const DrumPlace place = placeOf(drum);
    const double metres = distance(place.at, mic.at);
    const bool own = mic.close && mic.drum == drum;
    // A close mic points at its own drum and hears the others from the side, 6 dB softer and without their top.
    const double aim = mic.close && !own ? 0.5 : 1.0;
    const double gain = mic.gain * aim * place.loudness * place.reference / std::max(metres, place.reference);
    return {mic.inverted ? -gain : gain, own ? 18000.0 : mic.close ? 7000.0 : 13000.0, travel(drum, mic, rate)};
}

using DryTracks = std::array<std::vector<float>, drumCount>;

DryTracks dryTracks(const std::vector<Stroke>& strokes, const std::vector<ModelMic>& mics, std::int64_t length,
                    int rate, std::uint64_t seed) {
    DryTracks tracks;
    for (auto& track : tracks)
        track.assign(static_cast<std::size_t>(length), 0.0F);
    Random random(seed);
    for (const Stroke& stroke : strokes) {
        auto& track = tracks[static_cast<std::size_t>(stroke.drum)];
        const auto sound = strike(stroke.drum, stroke.velocity, rate, random);
        const std::int64_t struck = stroke.sample - travel(stroke.drum, mics[ownMic(stroke.drum, mics)], rate);
        for (std::size_t i = 0; i < sound.size(); ++i) {
            const std::int64_t at = struck + static_cast<std::int64_t>(i);
            if (at >= 0 && at < length)
                track[static_cast<std::size_t>(at)] += sound[i];
        }
    }
    return tracks;
}

void addPath(std::vector<float>& out, const std::vector<float>& dry, const Path& path, int rate) {
    const auto coefficient = static_cast<float>(1.0 - std::exp(-2.0 * std::numbers::pi * path.cutoff / rate));
    const auto gain = static_cast<float>(path.gain);
    float state = 0;
    for (std::size_t i = static_cast<std::size_t>(path.delay); i < out.size(); ++i) {
        state += coefficient * (dry[i - static_cast<std::size_t>(path.delay)] + inaudible - state);
        out[i] += gain * state;
    }
}

/// Four crossed delay lines (a Hadamard feedback matrix): a small, dull room of about 0.5 s.
void addRoom(std::vector<float>& out, double amount, int rate) {
    const std::vector<float> dry = out;
    constexpr std::array seconds{0.0131, 0.0173, 0.0229, 0.0307};
    std::array<std::vector<float>, 4> lines;
    std::array<std::size_t, 4> at{};
    std::array<float, 4> dull{};
    for (std::size_t i = 0; i < 4; ++i)
        lines[i].assign(static_cast<std::size_t>(seconds[i] * rate), 0.0F);
    for (std::size_t i = 0; i < out.size(); ++i) {
        std::array<float, 4> tap{};
        for (std::size_t k = 0; k < 4; ++k)
            tap[k] = dull[k] += 0.45F * (lines[k][at[k]] - dull[k]);
        const float a = tap[0] + tap[1], b = tap[0] - tap[1], c = tap[2] + tap[3], d = tap[2] - tap[3];
        const std::array mixed{a + c, b + d, a - c, b - d};
        for (std::size_t k = 0; k < 4; ++k) {
            lines[k][at[k]] = dry[i] + inaudible + 0.43F * mixed[k];
            at[k] = (at[k] + 1) % lines[k].size();
        }
        out[i] += static_cast<float>(amount) * (tap[0] - tap[1] + tap[2] - tap[3]);
    }
}

} // namespace

std::vector<ModelMic> demoMics() {
    return {
        {"kick_in", {0.0, -0.05, 0.3}, true, Drum::kick, 0.002, 0.62},
        {"kick_out", {0.0, -0.45, 0.3}, true, Drum::kick, 0.01, 1.9},
        {"snare_top", {-0.33, 0.50, 0.70}, true, Drum::snare, 0.004, 0.55},
        {"snare_bottom", {-0.3, 0.55, 0.50}, true, Drum::snare, 0.006, 0.85, true},
        {"tom_rack", {-0.12, 0.10, 0.91}, true, Drum::tomRack, 0.004, 0.62},
        {"tom_floor", {0.58, 0.49, 0.66}, true, Drum::tomFloor, 0.004, 0.62},
        {"hihat", {-0.80, 0.62, 1.05}, true, Drum::hat, 0.006, 0.9},
        {"ride", {0.68, -0.05, 1.25}, true, Drum::ride, 0.006, 0.9},
        {"overhead_left", {-0.65, 0.3, 1.75}, false, Drum::crash, 0.08, 4.2},
        {"overhead_right", {0.65, 0.3, 1.75}, false, Drum::ride, 0.08, 4.2},
        {"room", {0.4, -3.6, 1.5}, false, Drum::crash, 0.5, 9.0},
    };
}

std::int64_t travel(Drum drum, const ModelMic& mic, int rate) {
    return std::llround(distance(placeOf(drum).at, mic.at) / speedOfSound * rate);
}

std::size_t ownMic(Drum drum, const std::vector<ModelMic>& mics) {
    const auto found =
        std::find_if(mics.begin(), mics.end(), [&](const ModelMic& mic) { return mic.close && mic.drum == drum; });
    // Crash and count-in sticks have no mic of their own: their time is that of the hat mic's ear, or the first
    // mic's.
    if (found != mics.end())
        return static_cast<std::size_t>(found - mics.begin());
    return drum == Drum::hat ? 0 : ownMic(Drum::hat, mics);
}

std::vector<std::vector<float>> record(const std::vector<Stroke>& strokes, const std::vector<ModelMic>& mics,
                                       std::int64_t length, int rate, std::uint64_t seed) {
    const DryTracks dry = dryTracks(strokes, mics, length, rate, seed);
    std::vector<std::vector<float>> recorded(mics.size());
    forEachIndex(mics.size(), [&](std::size_t m) {
        auto& out = recorded[m];
        out.assign(static_cast<std::size_t>(length), 0.0F);
        for (int drum = 0; drum < drumCount; ++drum)
            addPath(out, dry[static_cast<std::size_t>(drum)], pathOf(static_cast<Drum>(drum), mics[m], rate), rate);
        addRoom(out, mics[m].room, rate);
        Random random(seed * 1000 + m);
        for (float& sample : out) // uniform noise of amplitude a has an RMS of a / √3: −78 dBFS
            sample = std::clamp(sample + 0.000218F * random.noise(), -0.999F, 0.999F);
    });
    return recorded;
}

} // namespace lampo::demo
