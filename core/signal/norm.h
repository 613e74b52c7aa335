#pragma once

#include <cmath>
#include <numeric>
#include <span>

namespace lampo {

/// The root of the sum of squares (Euclidean norm); never 0.
inline float normOf(std::span<const float> samples) {
    return std::sqrt(std::inner_product(samples.begin(), samples.end(), samples.begin(), 1e-9F));
}

/// Scaled so that its norm is 1, but for silence.
inline void normalise(std::span<float> samples) {
    const float norm = normOf(samples);
    for (float& sample : samples)
        sample /= norm;
}

} // namespace lampo
