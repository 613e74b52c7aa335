#include "audio/rate_stream.h"

#include <soxr.h>

#include <algorithm>

namespace lampo {

struct RateStream::Library {
    soxr_t soxr = nullptr;

    Library(SampleRate from, SampleRate to, unsigned channels) {
        const soxr_quality_spec_t best = soxr_quality_spec(SOXR_VHQ, 0);
        soxr_error_t error = nullptr;
        soxr = soxr_create(from.hz, to.hz, channels, &error, nullptr, &best, nullptr);
    }
    Library(const Library&) = delete;
    Library& operator=(const Library&) = delete;
    ~Library() { soxr_delete(soxr); }
};

RateStream::RateStream(SampleRate from, SampleRate to, int channels)
    : from_(from), to_(to), channels_(static_cast<std::size_t>(channels)),
      library_(from == to ? nullptr : std::make_unique<Library>(from, to, static_cast<unsigned>(channels))) {}
RateStream::RateStream(RateStream&&) noexcept = default;
RateStream& RateStream::operator=(RateStream&&) noexcept = default;
RateStream::~RateStream() = default;

std::int64_t RateStream::converted(std::int64_t frames) const {
    return (frames * to_.hz + from_.hz / 2) / from_.hz;
}

Expected<std::span<const float>> RateStream::next(std::span<const float> interleaved) {
    if (!library_)
        return interleaved;
    const std::size_t frames = interleaved.size() / channels_;
    given_ += static_cast<std::int64_t>(frames);
    return ready(interleaved.data(), frames);
}

Expected<std::span<const float>> RateStream::rest() {
    if (!library_)
        return std::span<const float>{};
    const std::int64_t made = made_;
    auto rest = ready(nullptr, 0);
    if (!rest)
        return rest;
    out_.resize(static_cast<std::size_t>(converted(given_) - made) * channels_); // to the frame
    return std::span<const float>(out_);
}

Expected<std::span<const float>> RateStream::ready(const float* in, std::size_t frames) {
    constexpr std::size_t step = 1 << 14;
    out_.clear();
    for (bool more = true; more;) {
        const std::size_t before = out_.size();
        out_.resize(before + step * channels_);
        std::size_t taken = 0, done = 0;
        if (library_->soxr == nullptr ||
            soxr_process(library_->soxr, in, frames, &taken, out_.data() + before, step, &done) != nullptr)
            return fail(ErrorKind::unreadable, "The sample rate could not be converted");
        out_.resize(before + done * channels_);
        if (in != nullptr)
            in += taken * channels_;
        frames -= taken;
        made_ += static_cast<std::int64_t>(done);
        more = frames > 0 || done == step;
    }
    return std::span<const float>(out_);
}

} // namespace lampo
