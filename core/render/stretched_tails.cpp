#include "render/stretched_tails.h"

#include <algorithm>

namespace lampo {
namespace {

constexpr std::size_t mostKept = 16'000'000; ///< samples: 64 MB

} // namespace

Expected<std::shared_ptr<const StretchedMics>> StretchedTails::of(const Segment& segment) {
    const Stretch& stretch = *segment.stretch;
    const auto found = std::find_if(kept_.begin(), kept_.end(), [&](const Kept& kept) {
        return kept.take == segment.take && kept.tail == stretch.tail && kept.length == stretch.over.length();
    });
    if (found != kept_.end())
        return found->sound;
    auto sound = stretched(segment);
    if (sound) {
        kept_.push_front({segment.take, stretch.tail, stretch.over.length(), *sound});
        const auto samples = [&](const Kept& kept) {
            return kit_.mics() * static_cast<std::size_t>(kept.length.frames);
        };
        samples_ += samples(kept_.front());
        for (; samples_ > mostKept && kept_.size() > 1; kept_.pop_back())
            samples_ -= samples(kept_.back());
    }
    return sound;
}

Expected<std::shared_ptr<const StretchedMics>> StretchedTails::stretched(const Segment& segment) {
    const FrameCount before = toFrames(beforeTail, kit_.rate());
    const SourceFrame begin = segment.stretch->tail.begin - before;
    const auto count = static_cast<std::size_t>((segment.stretch->tail.length() + before).frames);
    if (auto fetched = kit_.fetch(segment.take, begin, count); !fetched)
        return tl::unexpected(fetched.error());
    std::vector<std::vector<float>> mics;
    for (MicIndex mic; mic < kit_.mics(); ++mic) {
        const auto frames = kit_.frames(segment.take, mic, begin, count);
        if (!frames)
            return tl::unexpected(frames.error());
        mics.emplace_back(frames->begin(), frames->end());
    }
    return std::make_shared<const StretchedMics>(
        stretchTail(mics, before, segment.stretch->over.length(), kit_.rate()));
}

Expected<std::vector<float>> StretchedTails::sound(const Segment& segment, MicIndex mic, ResultFrame at,
                                                   std::size_t count) {
    std::vector<float> sound;
    const auto add = [&](ResultFrame end, SourceFrame from) -> Expected<void> {
        const ResultFrame here = at + FrameCount{static_cast<std::int64_t>(sound.size())};
        if (end <= here)
            return {};
        const auto frames = kit_.frames(segment.take, mic, from, static_cast<std::size_t>((end - here).frames));
        return frames.map(
            [&](std::span<const float> read) { sound.insert(sound.end(), read.begin(), read.end()); });
    };
    const ResultFrame end = at + FrameCount{static_cast<std::int64_t>(count)};
    if (segment.stretch) {
        const auto tail = of(segment);
        if (!tail)
            return tl::unexpected(tail.error());
        const Range<ResultFrame>& over = segment.stretch->over;
        if (auto before = add(std::min(over.begin, end), segment.sourceAt(at)); !before)
            return tl::unexpected(before.error());
        if (const auto part = over.intersected({at, end}); !part.empty()) {
            const auto begin = (**tail)[mic].begin() + (part.begin - over.begin).frames;
            sound.insert(sound.end(), begin, begin + part.length().frames);
        }
    }
    const ResultFrame here = at + FrameCount{static_cast<std::int64_t>(sound.size())};
    return add(end, segment.sourceAt(here)).map([&] { return std::move(sound); });
}

} // namespace lampo
