#pragma once

#include "timing/landing.h"

namespace lampo {

/// How early or late hits are against the lines they mean. Early is negative.
struct Tightness {
    std::size_t hits = 0;  ///< that mean a line
    Milliseconds mean;     ///< deviation
    Milliseconds spread;   ///< standard deviation
    Milliseconds worst;    ///< the largest deviation, with its sign
    double withinFive = 0; ///< share within ±5 ms, 0 to 1
};

enum class Moment { asPlayed, asLanded };

Milliseconds deviation(const Landing& landing, Moment moment, SampleRate rate);
Tightness tightness(std::span<const Landing> landings, Moment moment, SampleRate rate);

} // namespace lampo
