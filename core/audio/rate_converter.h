#pragma once

#include "base/error.h"
#include "base/units.h"

#include <functional>
#include <span>
#include <vector>

namespace lampo {

/// Serves a sound at another sample rate, from any place in any order (soxr at its best quality). Works in blocks
/// that begin where a frame of both rates coincides, each with more of the sound around it than the filter reaches,
/// so the result does not depend on where reading begins. Keeps one block. One thread at a time.
class RateConverter {
public:
    /// Fills `into` with frames of the sound's own rate from `at` on, silence outside it.
    using Source = std::function<Expected<void>(std::int64_t at, std::span<float> into)>;

    /// From a file's rate to the session's.
    RateConverter(SampleRate from, SampleRate to);

    /// What `frames` frames become, rounded.
    FrameCount converted(FrameCount frames) const;
    /// Frames of the new rate from `at` on. Errors: those of `source`.
    Expected<void> read(std::int64_t at, std::span<float> into, const Source& source);

private:
    Expected<void> makeBlock(std::int64_t block, const Source& source);

    SampleRate from_;
    SampleRate to_;
    std::int64_t stepIn_;  ///< frames of the old rate from one coincidence to the next
    std::int64_t stepOut_; ///< frames of the new rate
    std::int64_t steps_;   ///< in a block
    std::int64_t around_;  ///< steps read before and behind it
    std::int64_t block_ = -1;
    std::vector<float> samples_; ///< of that block
};

} // namespace lampo
