#include "audio/peaks.h"

#include <algorithm>
#include <cmath>

namespace lampo {
namespace {

Extent united(std::span<const Extent> parts) {
    Extent whole = parts.front();
    for (const Extent& part : parts) {
        whole.low = std::min(whole.low, part.low);
        whole.high = std::max(whole.high, part.high);
    }
    return whole;
}

} // namespace

Expected<Peaks> Peaks::build(AudioReader& reader, const Progress& progress) {
    Peaks peaks;
    constexpr std::int64_t block = base * 256;
    std::vector<float> buffer(block);
    const std::int64_t length = reader.info().length.frames;
    for (std::int64_t at = 0; at < length; at += block) {
        if (progress.cancelled())
            return fail(ErrorKind::cancelled, "Drawing was stopped");
        const auto samples = std::span(buffer).first(static_cast<std::size_t>(std::min(block, length - at)));
        if (auto read = reader.read(SourceFrame{at}, samples); !read)
            return tl::unexpected(read.error());
        peaks.addBase(samples);
        progress.at(static_cast<double>(at) / static_cast<double>(length));
    }
    peaks.addLevels();
    return peaks;
}

Peaks Peaks::ofSamples(std::span<const float> samples) {
    Peaks peaks;
    peaks.addBase(samples);
    peaks.addLevels();
    return peaks;
}

void Peaks::addBase(std::span<const float> samples) {
    length_ = length_ + FrameCount{static_cast<std::int64_t>(samples.size())};
    while (!samples.empty()) {
        const auto part = samples.first(std::min<std::size_t>(samples.size(), base));
        Extent extent{part.front(), part.front()};
        for (const float sample : part) {
            extent.low = std::min(extent.low, sample);
            extent.high = std::max(extent.high, sample);
        }
        levels_.front().push_back(extent);
        samples = samples.subspan(part.size());
    }
}

void Peaks::addLevels() {
    while (levels_.back().size() > 1) {
        std::span<const Extent> finer = levels_.back();
        std::vector<Extent> coarser;
        while (!finer.empty()) {
            const auto part = finer.first(std::min<std::size_t>(finer.size(), factor));
            coarser.push_back(united(part));
            finer = finer.subspan(part.size());
        }
        levels_.push_back(std::move(coarser));
    }
}

float Peaks::loudest() const {
    if (levels_.back().empty())
        return 0;
    const Extent& whole = levels_.back().front();
    return std::max(std::abs(whole.low), std::abs(whole.high));
}

std::size_t Peaks::levelFor(double framesPerColumn) const {
    std::size_t level = 0;
    while (level + 1 < levels_.size() && static_cast<double>(framesPerEntry(level + 1)) <= framesPerColumn)
        ++level;
    return level;
}

std::int64_t Peaks::framesPerEntry(std::size_t level) const {
    return base << (2 * level);
}

Extent Peaks::extent(Range<SourceFrame> range, std::size_t level) const {
    const auto entries = this->entries(level);
    const std::int64_t step = framesPerEntry(level);
    const auto size = static_cast<std::int64_t>(entries.size());
    const std::int64_t first = std::clamp<std::int64_t>(range.begin.frame / step, 0, size);
    const std::int64_t last = std::clamp<std::int64_t>((range.end.frame + step - 1) / step, first, size);
    if (range.end.frame <= 0 || first == last)
        return {};
    return united(entries.subspan(static_cast<std::size_t>(first), static_cast<std::size_t>(last - first)));
}

} // namespace lampo
