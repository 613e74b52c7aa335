#include "audio/window_reader.h"

#include <algorithm>

namespace lampo {

WindowReader::WindowReader(AudioReader reader, std::size_t step) : reader_(std::move(reader)), step_(step) {}

Expected<std::span<const float>> WindowReader::frames(SourceFrame at, std::size_t count) {
    if (holds(at, count))
        return std::span<const float>(window_).subspan(static_cast<std::size_t>((at - begin_).frames), count);

    // Keep a quarter of a step behind the request, for the next jump back, and re-use what is already decoded.
    const SourceFrame begin = at - FrameCount{static_cast<std::int64_t>(step_ / 4)};
    const std::size_t size = step_ / 4 + count + step_;
    window_.resize(std::max(window_.size(), size));
    const auto kept = (begin - begin_).frames;
    std::size_t reused = 0;
    if (kept >= 0 && static_cast<std::size_t>(kept) < filled_) {
        reused = filled_ - static_cast<std::size_t>(kept);
        std::copy_n(window_.begin() + static_cast<std::ptrdiff_t>(kept), reused, window_.begin());
    }
    begin_ = begin;
    filled_ = reused;
    if (reused < size) {
        const auto rest = std::span(window_).subspan(reused, size - reused);
        if (auto read = reader_.read(begin + FrameCount{static_cast<std::int64_t>(reused)}, rest); !read)
            return tl::unexpected(read.error());
        filled_ = size;
    }
    return std::span<const float>(window_).subspan(step_ / 4, count);
}

} // namespace lampo
