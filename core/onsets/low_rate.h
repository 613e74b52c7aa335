#pragma once

#include "base/units.h"

#include <cstddef>
#include <span>
#include <vector>

namespace lampo {

/// A sound at about 12 kHz: one sample for each `factor` frames, low-passed (a sinc under a Hann window, −6 dB at a
/// third of the new rate).
class LowRate {
public:
    LowRate() = default;
    /// Of a file at this rate.
    explicit LowRate(SampleRate rate);

    /// Frames of the file for one sample: 4 at 44.1 and 48 kHz, 8 at 88.2 and 96 kHz, and so on.
    std::size_t factor() const { return factor_; }
    /// Frames that the low-pass reaches to each side.
    std::size_t margin() const { return 4 * factor_; }
    /// The sample at frame margin() of `frames`, of which there are twice as many and one more.
    float around(std::span<const float> frames) const;

private:
    std::size_t factor_ = 0;
    std::vector<float> window_;
};

/// A whole file at the low rate, as it is read: sample k lies at frame k * factor.
class LowRateSound {
public:
    /// Of a file at this rate.
    explicit LowRateSound(SampleRate rate) : lowRate_(rate), waiting_(lowRate_.margin()) {}
    /// The next frames.
    void add(std::span<const float> frames);
    /// Frames of the file for one sample.
    std::size_t factor() const { return lowRate_.factor(); }
    /// So far.
    const std::vector<float>& samples() const { return samples_; }

private:
    LowRate lowRate_;
    std::vector<float> waiting_; ///< frames that later samples need
    std::vector<float> samples_;
};

} // namespace lampo
