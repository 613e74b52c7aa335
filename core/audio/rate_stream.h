#pragma once

#include "base/error.h"
#include "base/units.h"

#include <cstdint>
#include <memory>
#include <span>
#include <vector>

namespace lampo {

/// Brings a sound that is given from its begin to its end to another sample rate (soxr at its best quality, linear
/// phase, nothing late). One thread at a time.
class RateStream {
public:
    /// From one rate to another; equal ones pass everything on as it is.
    RateStream(SampleRate from, SampleRate to, int channels);
    /// The one moved from serves nothing any more.
    RateStream(RateStream&&) noexcept;
    /// As when it is made of another.
    RateStream& operator=(RateStream&&) noexcept;
    ~RateStream();

    /// What `frames` frames become, rounded.
    std::int64_t converted(std::int64_t frames) const;
    /// The next frames, interleaved; what of the sound is ready by them. Valid until the next call.
    /// Errors: unreadable (the library cannot).
    Expected<std::span<const float>> next(std::span<const float> interleaved);
    /// The rest, when all was given: altogether converted() frames of it.
    Expected<std::span<const float>> rest();

private:
    struct Library;
    Expected<std::span<const float>> ready(const float* in, std::size_t frames);

    SampleRate from_, to_;
    std::size_t channels_;
    std::int64_t given_ = 0, made_ = 0; ///< frames
    std::vector<float> out_;
    std::unique_ptr<Library> library_; ///< null where the rates are equal
};

} // namespace lampo
