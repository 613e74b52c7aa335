#include "render/renderer.h"

#include "base/parallel.h"
#include "render/correlation.h"
#include "seams/curve.h"

#include <algorithm>
#include <cmath>

namespace lampo {
namespace {

constexpr float unknown = -2;
constexpr std::size_t worthThreads = 8192; ///< frames; below, starting threads costs more than it saves

} // namespace

Renderer::Renderer(std::shared_ptr<const Plan> plan, std::shared_ptr<KitReader> kit)
    : plan_(std::move(plan)), kit_(std::move(kit)), tails_(*kit_), patcher_(*plan_, *kit_, tails_),
      likeness_(plan_->segments.size(), unknown) {}

std::size_t Renderer::firstSegmentEndingAfter(ResultFrame at) const {
    const auto& segments = plan_->segments;
    return static_cast<std::size_t>(std::partition_point(segments.begin(), segments.end(),
                                                         [&](const Segment& s) { return s.sounds.end <= at; }) -
                                    segments.begin());
}

Expected<void> Renderer::render(ResultFrame at, std::size_t frames, std::span<const std::span<float>> out) {
    if (auto fetched = fetch(at, frames); !fetched)
        return fetched;
    if (auto prepared = prepare(at, frames); !prepared)
        return prepared;
    const auto one = [&](std::size_t mic) { return renderMic({mic}, at, out[mic].first(frames)); };
    if (frames >= worthThreads)
        return tryEachIndex(kit_->mics(), one);
    for (MicIndex mic; mic < kit_->mics(); ++mic)
        if (auto rendered = one(mic); !rendered)
            return rendered;
    return {};
}

Expected<void> Renderer::fetch(ResultFrame at, std::size_t frames) {
    const Range<ResultFrame> block{at, at + FrameCount{static_cast<std::int64_t>(frames)}};
    const auto& segments = plan_->segments;
    for (std::size_t i = firstSegmentEndingAfter(at); i < segments.size() && segments[i].sounds.begin < block.end;
         ++i) {
        if (segments[i].stretch)
            continue; // read as a whole when it is stretched
        const auto part = segments[i].sounds.intersected(block);
        if (auto fetched = kit_->fetch(segments[i].take, segments[i].sourceAt(part.begin),
                                       static_cast<std::size_t>(part.length().frames));
            !fetched)
            return fetched;
    }
    return {};
}

Expected<void> Renderer::prepare(ResultFrame at, std::size_t frames) {
    const ResultFrame end = at + FrameCount{static_cast<std::int64_t>(frames)};
    const auto& segments = plan_->segments;
    std::map<std::size_t, Ready> needed;
    for (std::size_t i = firstSegmentEndingAfter(at); i < segments.size() && segments[i].sounds.begin < end; ++i) {
        if (auto kept = ready_.extract(i)) {
            needed.insert(std::move(kept));
            continue;
        }
        auto ready = madeReady(i);
        if (!ready)
            return tl::unexpected(ready.error());
        needed.emplace(i, std::move(*ready));
    }
    ready_ = std::move(needed);
    return patcher_.prepare({at, end});
}

Expected<Renderer::Ready> Renderer::madeReady(std::size_t i) {
    const auto& segments = plan_->segments;
    const auto before = likenessBefore(i);
    const auto after = i + 1 < segments.size() ? likenessBefore(i + 1) : Expected<double>(0.0);
    if (!before || !after)
        return tl::unexpected(before ? after.error() : before.error());
    const bool meets = i + 1 < segments.size() && segments[i + 1].sounds.begin < segments[i].sounds.end;
    const FadeCurve curveAfter = meets ? segments[i + 1].curve : FadeCurve::matched;
    Ready ready;
    for (std::int64_t k = 0; k < segments[i].fadeIn.frames; ++k)
        ready.in.push_back(fadeGains(segments[i].curve, alongFade(k, segments[i].fadeIn), *before).in);
    for (std::int64_t k = 0; k < segments[i].fadeOut.frames; ++k)
        ready.out.push_back(fadeGains(curveAfter, alongFade(k, segments[i].fadeOut), *after).out);
    if (segments[i].stretch) {
        auto tail = tails_.of(segments[i]);
        if (!tail)
            return tl::unexpected(tail.error());
        ready.tail = std::move(*tail);
    }
    return ready;
}

/// 0 where the two do not overlap: a lone fade is like one into something unlike.
Expected<double> Renderer::likenessBefore(std::size_t segment) {
    const auto& segments = plan_->segments;
    if (segment == 0 || segments[segment - 1].sounds.end <= segments[segment].sounds.begin)
        return 0.0;
    if (const auto found = segments[segment].likeness)
        return *found;
    if (likeness_[segment] == unknown) {
        auto measured = likeness(segments[segment - 1], segments[segment]);
        if (!measured)
            return measured;
        likeness_[segment] = static_cast<float>(*measured);
    }
    return likeness_[segment];
}

Expected<double> Renderer::likeness(const Segment& earlier, const Segment& later) {
    const ResultFrame begin = later.sounds.begin;
    const auto length = static_cast<std::size_t>((earlier.sounds.end - begin).frames);
    MeanCorrelation mean;
    for (MicIndex mic; mic < kit_->mics(); ++mic) {
        const auto a = tails_.sound(earlier, mic, begin, length);
        const auto b = tails_.sound(later, mic, begin, length);
        if (!a || !b)
            return tl::unexpected(a ? b.error() : a.error());
        mean.add(*a, *b);
    }
    return mean.value();
}

Expected<void> Renderer::renderMic(MicIndex mic, ResultFrame at, std::span<float> out) {
    const Range<ResultFrame> block{at, at + FrameCount{static_cast<std::int64_t>(out.size())}};
    std::fill(out.begin(), out.end(), 0.0F);
    const auto& segments = plan_->segments;
    for (std::size_t i = firstSegmentEndingAfter(block.begin); i < segments.size(); ++i) {
        const Segment& segment = segments[i];
        if (segment.sounds.begin >= block.end)
            break;
        const auto part = segment.sounds.intersected(block);
        if (part.empty())
            continue;
        const auto count = static_cast<std::size_t>(part.length().frames);
        const auto sound = source(i, mic, part.begin, count);
        if (!sound)
            return tl::unexpected(sound.error());
        addFaded(i, part.begin, *sound,
                 out.subspan(static_cast<std::size_t>((part.begin - block.begin).frames), count));
    }
    return patcher_.apply(mic, at, out);
}

/// Of a segment that is ready.
Expected<std::span<const float>> Renderer::source(std::size_t index, MicIndex mic, ResultFrame at,
                                                  std::size_t count) {
    const Segment& segment = plan_->segments[index];
    if (const auto& tail = ready_.at(index).tail)
        return std::span((*tail)[mic])
            .subspan(static_cast<std::size_t>((at - segment.stretch->over.begin).frames), count);
    return kit_->frames(segment.take, mic, segment.sourceAt(at), count);
}

void Renderer::addFaded(std::size_t index, ResultFrame at, std::span<const float> source,
                        std::span<float> out) const {
    const Segment& segment = plan_->segments[index];
    const Ready& ready = ready_.at(index);
    const auto count = static_cast<std::int64_t>(source.size());
    const std::int64_t first = (at - segment.sounds.begin).frames; // of the segment's own frames
    const std::int64_t fadeOutBegin = (segment.sounds.length() - segment.fadeOut).frames;
    const std::int64_t inEnd = std::clamp<std::int64_t>(segment.fadeIn.frames - first, 0, count);
    const std::int64_t outBegin = std::clamp<std::int64_t>(fadeOutBegin - first, inEnd, count);
    const auto add = [&](std::int64_t i, float gain) {
        out[static_cast<std::size_t>(i)] += gain * source[static_cast<std::size_t>(i)];
    };
    for (std::int64_t i = 0; i < inEnd; ++i)
        add(i, ready.in[static_cast<std::size_t>(first + i)]);
    // Outside its fades a segment sounds alone: copied, so that it is the source bit for bit (also −0).
    std::copy(source.begin() + inEnd, source.begin() + outBegin, out.begin() + inEnd);
    for (std::int64_t i = outBegin; i < count; ++i)
        add(i, ready.out[static_cast<std::size_t>(first + i - fadeOutBegin)]);
}

} // namespace lampo
