#pragma once

#include "onsets/low_rate.h"

#include <cstdint>
#include <span>
#include <vector>

namespace lampo {

/// The sound around each candidate of a mic, at about 12 kHz and 8 bits: enough to tell whether two strokes are
/// alike and how far they lie apart, without reading the file again. 460 bytes a candidate.
class AttackSounds {
public:
    static constexpr Milliseconds before{10}; ///< kept before the candidate
    static constexpr Milliseconds after{28};  ///< and after it

    AttackSounds() = default;
    /// Of a file at this rate; empty.
    explicit AttackSounds(SampleRate rate);

    SampleRate rate() const { return rate_; } ///< of the file
    /// Frames of the file for one kept sample, see LowRate.
    std::size_t factor() const { return lowRate_.factor(); }
    /// Kept samples of one sound, and how many of them lie before the candidate.
    std::size_t length() const { return length_; }
    /// See length().
    std::size_t lead() const { return lead_; }
    /// Frames that add() wants, the candidate's own being frame lead() * factor() + margin().
    std::size_t framesWanted() const { return length_ * factor() + 2 * margin(); }
    /// Frames that the low-pass reaches beyond what is kept, on each side.
    std::size_t margin() const { return lowRate_.margin(); }

    /// How many sounds are kept.
    std::size_t size() const { return length_ == 0 ? 0 : samples_.size() / length_; }
    /// Whether none is kept.
    bool empty() const { return samples_.empty(); }
    /// Low-passed (see LowRate) and kept as parts of its own peak: its level is the candidate's. `frames` has
    /// framesWanted().
    void add(std::span<const float> frames);
    /// One kept sound, ±127 at its own peak.
    std::span<const std::int8_t> of(std::size_t candidate) const {
        return std::span(samples_).subspan(candidate * length_, length_);
    }

    /// As they are written and read. samples.size() must be a multiple of length().
    const std::vector<std::int8_t>& samples() const { return samples_; }
    /// Replaces all sounds by those that were read.
    void setSamples(std::vector<std::int8_t> samples) { samples_ = std::move(samples); }

private:
    SampleRate rate_{0};
    LowRate lowRate_;
    std::size_t length_ = 0, lead_ = 0;
    std::vector<std::int8_t> samples_;
};

} // namespace lampo
