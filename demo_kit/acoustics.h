#pragma once

#include "demo_kit/voices.h"

#include <cstdint>
#include <string>
#include <vector>

namespace lampo::demo {

struct Point {
    double x, y, z; ///< metres
};

/// A microphone of the model: where it stands, which drum it is meant for, how much of the room it hears.
struct ModelMic {
    std::string stem;
    Point at;
    bool close;  ///< directional and near one drum
    Drum drum;   ///< that drum
    double room; ///< amount of reverberation, amplitude
    double gain; ///< preamplifier, amplitude
    bool inverted = false;
};

/// The eleven microphones of the demo.
std::vector<ModelMic> demoMics();

/// One stroke: where its attack begins in the file of the drum's own mic (frames), what was struck and how hard.
struct Stroke {
    std::int64_t sample = 0;
    Drum drum = Drum::kick;
    double velocity = 0.8; ///< 0 to 1
    int bar = 1;
    double beat = 1; ///< the place that was meant, in quarter notes from 1
    bool ghost = false;
};

/// Frames sound takes from `drum` to `mic`: 343 m/s, rounded to whole frames so that every arrival is exactly
/// known.
std::int64_t travel(Drum drum, const ModelMic& mic, int rate);
/// The mic whose file Stroke::sample speaks of.
std::size_t ownMic(Drum drum, const std::vector<ModelMic>& mics);

/// What each mic records (mics x frames): every stroke in every mic, later, softer and duller with distance, the
/// room's answer, and noise at −78 dBFS.
std::vector<std::vector<float>> record(const std::vector<Stroke>& strokes, const std::vector<ModelMic>& mics,
                                       std::int64_t length, int rate, std::uint64_t seed);

} // namespace lampo::demo
