#include "render/patcher.h"

#include "render/correlation.h"
#include "seams/curve.h"

#include <algorithm>

namespace lampo {

Expected<void> Patcher::prepare(Range<ResultFrame> block) {
    std::map<std::size_t, Fades> needed;
    for (std::size_t i = 0; i < plan_.patches.size() && plan_.patches[i].sounds.begin < block.end; ++i) {
        const PlannedPatch& patch = plan_.patches[i];
        if (patch.sounds.intersected(block).empty())
            continue;
        if (auto fetched = fetch(patch, block); !fetched)
            return fetched;
        if (auto kept = ready_.extract(i)) {
            needed.insert(std::move(kept));
            continue;
        }
        auto in = fadeOver(patch, {patch.sounds.begin, patch.sounds.begin + patch.fadeIn}, true);
        auto out = fadeOver(patch, {patch.sounds.end - patch.fadeOut, patch.sounds.end}, false);
        if (!in || !out)
            return tl::unexpected(in ? out.error() : in.error());
        needed.emplace(i, Fades{std::move(*in), std::move(*out)});
    }
    ready_ = std::move(needed);
    return {};
}

Expected<void> Patcher::fetch(const PlannedPatch& patch, Range<ResultFrame> block) {
    const auto part = patch.sounds.intersected(block);
    if (!patch.from || part.empty())
        return {};
    return kit_.fetch(patch.from->take, part.begin - patch.from->shift,
                      static_cast<std::size_t>(part.length().frames), patch.mics);
}

/// What comes from elsewhere fades by how alike it is to the plan's sound; a gain moves as between equal sides.
Expected<Patcher::Fade> Patcher::fadeOver(const PlannedPatch& patch, Range<ResultFrame> range, bool comesUp) {
    Fade fade;
    const auto alike = patch.from ? likeness(patch, range) : Expected<double>(1.0);
    if (!alike)
        return tl::unexpected(alike.error());
    const FrameCount length = range.length();
    for (std::int64_t k = 0; k < length.frames; ++k) {
        const double along = alongFade(k, length);
        const FadeGains gains = matchedGains(along, *alike);
        fade.plan.push_back(comesUp ? gains.out : gains.in);
        fade.patch.push_back(comesUp ? gains.in : gains.out);
    }
    return fade;
}

/// Over the patch's mics, against the segment that sounds in the middle of the fade.
Expected<double> Patcher::likeness(const PlannedPatch& patch, Range<ResultFrame> range) {
    const ResultFrame middle = range.begin + FrameCount{range.length().frames / 2};
    const auto segment = std::partition_point(plan_.segments.begin(), plan_.segments.end(),
                                              [&](const Segment& one) { return one.sounds.end <= middle; });
    if (segment == plan_.segments.end() || range.empty())
        return 0.0;
    const auto length = static_cast<std::size_t>(range.length().frames);
    MeanCorrelation mean;
    for (MicIndex mic; mic < kit_.mics(); ++mic) {
        if (!(patch.mics & onlyMic(mic)))
            continue;
        const auto plan = tails_.sound(*segment, mic, range.begin, length);
        const auto other = kit_.frames(patch.from->take, mic, range.begin - patch.from->shift, length);
        if (!plan || !other)
            return tl::unexpected(plan ? other.error() : plan.error());
        mean.add(*plan, *other);
    }
    return mean.value();
}

Expected<void> Patcher::apply(MicIndex mic, ResultFrame at, std::span<float> sound) const {
    const Range<ResultFrame> block{at, at + FrameCount{static_cast<std::int64_t>(sound.size())}};
    for (const auto& [index, fades] : ready_) {
        const PlannedPatch& patch = plan_.patches[index];
        const auto part = patch.sounds.intersected(block);
        if (part.empty() || !(patch.mics & onlyMic(mic)))
            continue;
        const auto count = static_cast<std::size_t>(part.length().frames);
        std::span<const float> source;
        if (patch.from) {
            const auto frames = kit_.frames(patch.from->take, mic, part.begin - patch.from->shift, count);
            if (!frames)
                return tl::unexpected(frames.error());
            source = *frames;
        }
        mix(patch, fades, part.begin, source,
            sound.subspan(static_cast<std::size_t>((part.begin - block.begin).frames), count));
    }
    return {};
}

void Patcher::mix(const PlannedPatch& patch, const Fades& fades, ResultFrame at, std::span<const float> source,
                  std::span<float> sound) const {
    const std::int64_t outBegin = (patch.sounds.length() - patch.fadeOut).frames;
    std::int64_t k = (at - patch.sounds.begin).frames;
    for (std::size_t i = 0; i < sound.size(); ++i, ++k) {
        const bool in = k < patch.fadeIn.frames, out = k >= outBegin;
        const auto& fade = in ? fades.in : fades.out;
        const auto step = static_cast<std::size_t>(in ? k : k - outBegin);
        const float plan = in || out ? fade.plan[step] : 0.0F, here = in || out ? fade.patch[step] : 1.0F;
        if (patch.from)
            sound[i] = plan * sound[i] + here * patch.gain * source[i];
        else
            sound[i] *= plan + here * patch.gain;
    }
}

} // namespace lampo
