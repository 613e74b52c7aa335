#pragma once

#include "audio/sample_format.h"

#include <cstdint>
#include <span>
#include <vector>

namespace lampo {

/// Turns samples into whole numbers: x · 2^(bits−1) to the nearest, limited to full scale. One thread at a time.
class Quantizer {
public:
    /// `seed`: sounds that are heard together want noise of their own each. The noise of a sample depends on its
    /// place alone, so equal sounds give equal numbers however they are divided.
    Quantizer(int bits, Dither dither, std::uint64_t seed = 0) : bits_(bits), dither_(dither), seed_(seed) {}

    /// The next samples, left-justified in 32 bits. Valid until the next call.
    std::span<const int> next(std::span<const float> samples);

private:
    int bits_;
    Dither dither_;
    std::uint64_t seed_;
    std::uint64_t done_ = 0; ///< samples
    std::vector<int> integers_;
};

} // namespace lampo
