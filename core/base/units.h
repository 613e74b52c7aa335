#pragma once

#include "base/position.h"

#include <compare>

namespace lampo {

/// Frames per second, 8,000 to 384,000.
struct SampleRate {
    int hz = 48000; ///< 1 / s
    auto operator<=>(const SampleRate&) const = default;
};

/// A time.
struct Seconds {
    double value = 0; ///< s
    auto operator<=>(const Seconds&) const = default;
};

/// A short time, as settings and figures give it.
struct Milliseconds {
    double value = 0; ///< ms
    auto operator<=>(const Milliseconds&) const = default;
};

/// Quarter notes per minute.
struct Bpm {
    double value = 120; ///< beats in a minute
    auto operator<=>(const Bpm&) const = default;
};

/// 20 log10 of an amplitude ratio.
struct Decibels {
    double value = 0; ///< dB
    auto operator<=>(const Decibels&) const = default;
};

/// Nearest whole frame.
FrameCount toFrames(Seconds time, SampleRate rate);
FrameCount toFrames(Milliseconds time, SampleRate rate);
Seconds toSeconds(FrameCount count, SampleRate rate);
Milliseconds toMilliseconds(FrameCount count, SampleRate rate);

double toGain(Decibels level);
/// Never below −200 dB, so that silence stays a number.
Decibels toDecibels(double amplitude);

} // namespace lampo
