#include "document/wave_source.h"

#include <algorithm>

namespace lampo {

WaveSource::WaveSource(SourceFile source, SampleRate rate, std::shared_ptr<const Peaks> peaks)
    : source_(std::move(source)), rate_(rate), peaks_(std::move(peaks)), loudest_(peaks_->loudest()) {}

void WaveSource::prepare(Range<SourceFrame> range, double framesPerColumn) {
    near_ = framesPerColumn < static_cast<double>(Peaks::base);
    if (!near_) {
        level_ = peaks_->levelFor(framesPerColumn);
        return;
    }
    const SourceFrame end = begin_ + FrameCount{static_cast<std::int64_t>(samples_.size())};
    if (begin_ <= range.begin && range.end <= end)
        return;
    // As much again to both sides, so that scrolling does not read on every step.
    begin_ = range.begin - range.length();
    samples_.assign(static_cast<std::size_t>(3 * range.length().frames), 0.0F);
    if (auto reader = AudioReader::open(source_, rate_); !reader || !reader->read(begin_, samples_))
        samples_.assign(samples_.size(), 0.0F);
}

Extent WaveSource::extent(Range<SourceFrame> range) const {
    if (!near_)
        return peaks_->extent(range, level_);
    const auto size = static_cast<std::int64_t>(samples_.size());
    const std::int64_t first = std::clamp<std::int64_t>((range.begin - begin_).frames, 0, size);
    const std::int64_t last = std::clamp<std::int64_t>((range.end - begin_).frames, first, size);
    if (first == last)
        return {};
    const auto [low, high] = std::minmax_element(samples_.begin() + first, samples_.begin() + last);
    return {*low, *high};
}

} // namespace lampo
