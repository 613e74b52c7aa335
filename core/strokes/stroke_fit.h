#pragma once

#include "strokes/stroke_start.h"

#include <cstddef>
#include <cstdint>
#include <span>

namespace lampo {

/// A first difference, by so much of the sample before: what rings low does not drown what begins.
Sound preEmphasised(std::span<const std::int8_t> samples, float amount);
/// Around 1.3 kHz: neither the ring of shells nor the hiss of metal.
Sound midBand(std::span<const std::int8_t> samples);

/// Where the loudness of a sound grows most, not in dB, around its candidate at `lead`: that is the drum's own
/// stroke, whatever came softly before.
std::size_t mainRiseOf(const Sound& sound, std::size_t lead, double perMs);
/// Takes a sound into a mean, of which it has this share then; it lies `lag` samples later than the mean.
void average(Sound& mean, const Sound& sound, std::ptrdiff_t lag, float share);

/// What is compared of a sound, and where it lies there.
struct StrokePattern {
    Sound sound;          ///< from 2 ms before the main rise to 9 ms behind it
    std::size_t rise = 0; ///< the sample of the main rise in the sound that it is part of
};
/// Silence counts where there is no sound.
StrokePattern strokePatternOf(const Sound& sound, std::size_t rise, double perMs);
/// The root of the sum of squares; never 0.
float normOf(const StrokePattern& pattern);

/// How a pattern fits another sound.
struct StrokeFit {
    double lag = 0;       ///< samples: it lies so much later there than in its own
    double likeness = -1; ///< normalised cross-correlation, −1 to 1
};
/// The best fit within `reach` samples around a lag, to a fraction of a sample.
StrokeFit bestFit(const StrokePattern& pattern, const Sound& sound, std::ptrdiff_t lag, std::size_t reach,
                  double perMs);

} // namespace lampo
