#pragma once

#include "signal/spectra.h"

#include <complex>
#include <cstddef>
#include <span>
#include <vector>

namespace lampo {

/// Several parts of one length, slid along a sound: the sums of their products with each stretch of it. By Fourier
/// transform. One thread at a time.
class SlidingParts {
public:
    /// `parts`: at least one, all of one length, which is not 0. `size`: how much of a sound at once; even.
    SlidingParts(std::span<const std::span<const float>> parts, std::size_t size);

    /// For each part, the sum of its products with each stretch of `sound` that lies in it as a whole: entry k is
    /// that from k on. `sound`: no shorter than the parts, no longer than `size`. Until the next call.
    const std::vector<std::vector<float>>& along(std::span<const float> sound);

private:
    void transform(std::span<const float> sound);

    Spectra spectra_;
    std::size_t length_; ///< of the parts
    std::vector<std::vector<std::complex<float>>> parts_;
    std::vector<std::vector<float>> products_;
};

/// The same of one part and one sound.
std::vector<float> slidingProducts(std::span<const float> sound, std::span<const float> part);

} // namespace lampo
