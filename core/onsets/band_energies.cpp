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

BandFilters::BandFilters(SampleRate rate) {
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

std::size_t hopOf(SampleRate rate) {
    return 64 * std::bit_floor(static_cast<std::size_t>(std::max(1, rate.hz / 44000)));
}

BandMeter::BandMeter(SampleRate rate) : hop_(hopOf(rate)), filters_(rate) {}

void BandMeter::add(std::span<const float> samples, std::vector<BandEnergies>& out) {
    BandFilters filters = filters_; // in registers
    while (samples.size() >= hop_) {
        BandFilters::Lanes sum{};
        for (std::size_t i = 0; i < hop_; ++i) {
            const BandFilters::Lanes y = filters.step(samples[i]);
            sum += y * y;
        }
        const float scale = 1.0F / static_cast<float>(hop_);
        out.push_back({sum[0] * scale, sum[1] * scale, sum[2] * scale, sum[3] * scale});
        samples = samples.subspan(hop_);
    }
    filters.settle();
    filters_ = filters;
}

void BandEmphasis::process(std::span<float> samples) {
    for (float& sample : samples) {
        const BandFilters::Lanes bands = filters_.step(sample);
        sample = 0;
        for (std::size_t band = 0; band < bandCount; ++band)
            sample += weights_[band] * bands[band];
    }
    filters_.settle();
}

} // namespace lampo
