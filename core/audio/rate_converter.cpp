#include "audio/rate_converter.h"

#include <soxr.h>

#include <algorithm>
#include <numeric>

namespace lampo {
namespace {

constexpr std::int64_t blockFrames = 1 << 15;
constexpr std::int64_t filterReach = 4096; ///< frames of the lower rate; soxr's own reach is some hundred

std::int64_t stepsFor(std::int64_t frames, std::int64_t step) {
    return (frames + step - 1) / step;
}

} // namespace

RateConverter::RateConverter(SampleRate from, SampleRate to) : from_(from), to_(to) {
    const std::int64_t common = std::gcd(from.hz, to.hz);
    stepIn_ = from.hz / common;
    stepOut_ = to.hz / common;
    around_ = stepsFor(filterReach, std::min(stepIn_, stepOut_));
    steps_ = std::max(stepsFor(blockFrames, stepOut_), 2 * around_); // at most half of the work is thrown away
}

FrameCount RateConverter::converted(FrameCount frames) const {
    return FrameCount{(frames.frames * to_.hz + from_.hz / 2) / from_.hz};
}

Expected<void> RateConverter::read(std::int64_t at, std::span<float> into, const Source& source) {
    const std::int64_t size = steps_ * stepOut_;
    while (!into.empty()) {
        const std::int64_t block = at >= 0 ? at / size : -((-at + size - 1) / size);
        if (block != block_ || samples_.empty())
            if (auto made = makeBlock(block, source); !made)
                return made;
        const std::int64_t skip = at - block * size;
        const auto count = std::min<std::size_t>(into.size(), static_cast<std::size_t>(size - skip));
        std::copy_n(samples_.begin() + skip, count, into.begin());
        into = into.subspan(count);
        at += static_cast<std::int64_t>(count);
    }
    return {};
}

Expected<void> RateConverter::makeBlock(std::int64_t block, const Source& source) {
    samples_.clear();
    const std::int64_t steps = steps_ + 2 * around_;
    std::vector<float> in(static_cast<std::size_t>(steps * stepIn_));
    if (auto fetched = source((block * steps_ - around_) * stepIn_, in); !fetched)
        return fetched;
    std::vector<float> out(static_cast<std::size_t>(steps * stepOut_));
    const soxr_quality_spec_t best = soxr_quality_spec(SOXR_VHQ, 0);
    std::size_t done = 0;
    if (soxr_oneshot(from_.hz, to_.hz, 1, in.data(), in.size(), nullptr, out.data(), out.size(), &done, nullptr,
                     &best, nullptr) != nullptr)
        return fail(ErrorKind::unreadable, "The sample rate could not be converted");
    const auto begin = out.begin() + around_ * stepOut_;
    samples_.assign(begin, begin + steps_ * stepOut_);
    block_ = block;
    return {};
}

} // namespace lampo
