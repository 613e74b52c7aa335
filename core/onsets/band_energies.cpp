#include "onsets/band_energies.h"

#include <bit>
#include <cmath>
#include <numbers>

namespace lampo {
namespace {

struct Section {
    double b0, b1, b2, a0, a1, a2;
};

enum class Shape { low, band, high };

// The Cookbook's formulae; for `band` the one with constant 0 dB peak gain.
Section section(Shape shape, double hertz, double q, double rate) {
    const double w = 2.0 * std::numbers::pi * std::min(hertz / rate, 0.45);
    const double c = std::cos(w);
    const double alpha = std::sin(w) / (2.0 * q);
    switch (shape) {
    case Shape::low:
        return {(1 - c) / 2, 1 - c, (1 - c) / 2, 1 + alpha, -2 * c, 1 - alpha};
    case Shape::band:
        return {alpha, 0, -alpha, 1 + alpha, -2 * c, 1 - alpha};
    case Shape::high:
        return {(1 + c) / 2, -(1 + c), (1 + c) / 2, 1 + alpha, -2 * c, 1 - alpha};
    }
    return {};
}

} // namespace

BandMeter::BandMeter(SampleRate rate)
    : hop_(64 * std::bit_floor(static_cast<std::size_t>(std::max(1, rate.hz / 44000)))) {
    const double hz = rate.hz;
    const std::array sections{section(Shape::low, 150, 0.707, hz), section(Shape::band, 324, 0.6, hz),
                              section(Shape::band, 1565, 0.56, hz), section(Shape::high, 3500, 0.707, hz)};
    for (std::size_t band = 0; band < bandCount; ++band) {
        const Section& s = sections[band];
        b0_[band] = static_cast<float>(s.b0 / s.a0);
        b1_[band] = static_cast<float>(s.b1 / s.a0);
        b2_[band] = static_cast<float>(s.b2 / s.a0);
        a1_[band] = static_cast<float>(s.a1 / s.a0);
        a2_[band] = static_cast<float>(s.a2 / s.a0);
    }
}

void BandMeter::add(std::span<const float> samples, std::vector<BandEnergies>& out) {
    Lanes s1 = s1_;
    Lanes s2 = s2_;
    while (samples.size() >= hop_) {
        Lanes sum{};
        for (std::size_t i = 0; i < hop_; ++i) {
            const Lanes x = Lanes{} + samples[i];
            // The parts that do not wait for y are computed beside it.
            const Lanes y = b0_ * x + s1;
            s1 = (b1_ * x + s2) - a1_ * y;
            s2 = b2_ * x - a2_ * y;
            sum += y * y;
        }
        const float scale = 1.0F / static_cast<float>(hop_);
        out.push_back({sum[0] * scale, sum[1] * scale, sum[2] * scale, sum[3] * scale});
        samples = samples.subspan(hop_);
    }
    // Filters fed with silence sink into denormal numbers, which are very slow.
    const Lanes tiny = Lanes{} + 1e-20F;
    s1_ = (s1 + tiny) - tiny;
    s2_ = (s2 + tiny) - tiny;
}

} // namespace lampo
