#include "audio/quantizer.h"

#include <algorithm>
#include <cmath>

namespace lampo {
namespace {

// To the nearest, ties to even. GCC makes packed instructions of its own word for it, of std::lrint none.
int nearest(float value) {
#if __has_builtin(__builtin_irintf)
    return __builtin_irintf(value);
#else
    return static_cast<int>(std::lrint(value));
#endif
}

/// Bits without pattern from a counter (splitmix64, Steele, Lea and Flood 2014).
std::uint64_t scrambled(std::uint64_t counter) {
    std::uint64_t z = counter * 0x9E3779B97F4A7C15U;
    z = (z ^ z >> 30) * 0xBF58476D1CE4E5B9U;
    z = (z ^ z >> 27) * 0x94D049BB133111EBU;
    return z ^ z >> 31;
}

/// Two even densities one step wide, added.
double triangular(std::uint64_t bits) {
    constexpr double step = 1.0 / 4294967296.0; // of 32 bits
    const auto low = static_cast<double>(bits & 0xFFFFFFFFU), high = static_cast<double>(bits >> 32U);
    return (low + high + 1) * step - 1;
}

} // namespace

std::span<const int> Quantizer::next(std::span<const float> samples) {
    const float scale = std::ldexp(1.0F, bits_ - 1);
    const int shift = 32 - bits_;
    integers_.resize(samples.size());
    const auto justified = [=](int value) { return static_cast<int>(static_cast<unsigned>(value) << shift); };
    const auto rounded = [=](float scaled) { return nearest(std::clamp(scaled, -scale, scale - 1.0F)); };
    if (dither_ == Dither::none)
        std::transform(samples.begin(), samples.end(), integers_.begin(),
                       [=](float sample) { return justified(rounded(sample * scale)); });
    else
        for (std::size_t i = 0; i < samples.size(); ++i) {
            const float scaled = samples[i] * scale;
            const bool held = scaled == std::nearbyint(scaled);
            // Floats of 24 bits have no room for the noise.
            const double noisy = held ? 0 : double{scaled} + triangular(scrambled(seed_ + done_ + i));
            integers_[i] = justified(
                held ? rounded(scaled)
                     : static_cast<int>(std::lrint(std::clamp(noisy, -double{scale}, double{scale} - 1))));
        }
    done_ += samples.size();
    return integers_;
}

} // namespace lampo
