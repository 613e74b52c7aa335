#pragma once

#include "base/limits.h"

#include <map>
#include <string>

namespace lampo {

/// How loud a note is by the level of its stroke: velocity = strong · 10^(dB / (20 · bend)). With a bend of 2 the
/// amplitude goes with the square of the velocity, as General MIDI players have it (MMA, "DLS Level 1", 1.1: the
/// gain of a velocity is 40 log10(velocity / 127) dB).
struct VelocityCurve {
    double strong = limits::strongVelocity.defaultValue; ///< of a typical strong hit
    double bend = limits::velocityBend.defaultValue;     ///< the larger, the more alike all notes are
    bool operator==(const VelocityCurve&) const = default;
};

/// How hits become notes.
struct MidiSettings {
    std::map<std::string, int> keys{}; ///< by the stem of a drum's mic; what is not named has its usual key
    VelocityCurve curve{};             ///< of all drums
    bool operator==(const MidiSettings&) const = default;
};

} // namespace lampo
