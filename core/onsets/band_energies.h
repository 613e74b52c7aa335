#pragma once

#include "base/units.h"

#include <array>
#include <span>
#include <vector>

namespace lampo {

inline constexpr std::size_t bandCount = 4;

/// Mean square of a hop in the bands below 150 Hz, 150 to 700 Hz, 700 Hz to 3.5 kHz, and above.
using BandEnergies = std::array<float, bandCount>;

/// Of all bands together; weights are amplitudes.
inline float weightedPower(const BandEnergies& energies, const BandEnergies& weights) {
    float power = 0;
    for (std::size_t band = 0; band < bandCount; ++band)
        power += weights[band] * weights[band] * energies[band];
    return power;
}

/// Four second-order sections side by side in one vector register (after R. Bristow-Johnson's "Cookbook formulae
/// for audio EQ biquad filter coefficients").
class BandFilters {
public:
    /// One value for each band.
    using Lanes [[gnu::vector_size(16)]] = float;

    /// For sound at this rate.
    explicit BandFilters(SampleRate rate);

    /// One sample of each band.
    Lanes step(float sample) {
        const Lanes x = Lanes{} + sample;
        // The parts that do not wait for y are computed beside it.
        const Lanes y = b0_ * x + s1_;
        s1_ = (b1_ * x + s2_) - a1_ * y;
        s2_ = b2_ * x - a2_ * y;
        return y;
    }
    /// Filters fed with silence sink into denormal numbers, which are very slow: to be called now and then.
    void settle() {
        const Lanes tiny = Lanes{} + 1e-20F;
        s1_ = (s1_ + tiny) - tiny;
        s2_ = (s2_ + tiny) - tiny;
    }

private:
    Lanes b0_, b1_, b2_, a1_, a2_;
    Lanes s1_{}, s2_{};
};

/// Frames of a hop: 64 at 44.1 and 48 kHz, 128 at 88.2 and 96 kHz, and so on.
std::size_t hopOf(SampleRate rate);

/// Splits a stream into four bands and measures each over hops of about 1.3 ms. About 4 ns a frame, which is
/// what makes the analysis fast.
class BandMeter {
public:
    /// For sound at this rate.
    explicit BandMeter(SampleRate rate);

    /// Frames of a hop, see hopOf().
    std::size_t hop() const { return hop_; }
    /// Whole hops only: samples.size() must be a multiple of hop(). Appends one entry per hop.
    void add(std::span<const float> samples, std::vector<BandEnergies>& out);

private:
    std::size_t hop_;
    BandFilters filters_;
};

/// The sound of the bands as they are weighted, for those who want to hear what is listened for.
class BandEmphasis {
public:
    /// `weights` are amplitudes.
    BandEmphasis(SampleRate rate, const BandEnergies& weights) : filters_(rate), weights_(weights) {}
    /// In place.
    void process(std::span<float> samples);

private:
    BandFilters filters_;
    BandEnergies weights_;
};

} // namespace lampo
