#pragma once

#include "strokes/stroke_start.h"

#include <cstddef>
#include <cstdint>
#include <span>

namespace lampo {

/// A first difference, by so much of the sample before: what rings low does not drown what begins.
Sound emphasised(std::span<const std::int8_t> samples, float amount);
/// Around 1.3 kHz: neither the ring of shells nor the hiss of metal.
Sound middle(std::span<const std::int8_t> samples);

/// What is compared of a sound, and where it lies there.
struct Pattern {
    Sound sound;          ///< from 2 ms before the main rise to 9 ms behind it
    std::size_t rise = 0; ///< the sample of the main rise in the sound that it is part of
};
/// Silence counts where there is no sound.
Pattern patternOf(const Sound& sound, std::size_t rise, double perMs);
/// The root of the sum of squares; never 0.
float strengthOf(const Pattern& pattern);

/// How a pattern fits another sound.
struct Fit {
    double lag = 0;       ///< samples: it lies so much later there than in its own
    double likeness = -1; ///< normalised cross-correlation, −1 to 1
};
/// The best fit within `reach` samples around a lag, to a fraction of a sample.
Fit fitOf(const Pattern& pattern, const Sound& sound, std::ptrdiff_t lag, std::size_t reach, double perMs);

} // namespace lampo
