#include "seams/patch_planner.h"

#include <algorithm>

namespace lampo {
namespace {

/// Finds the segments that let a frame of a take sound.
class Places {
public:
    explicit Places(const std::vector<Segment>& segments) {
        for (const Segment& segment : segments)
            spans_.push_back({segment.take,
                              segment.sourceAt(segment.sounds.begin),
                              segment.sourceAt(segment.sounds.end),
                              {},
                              &segment});
        std::sort(spans_.begin(), spans_.end(), [](const Span& a, const Span& b) {
            return std::pair(a.take, a.begin) < std::pair(b.take, b.begin);
        });
        for (std::size_t i = 0; i < spans_.size(); ++i)
            spans_[i].farthest = i > 0 && spans_[i - 1].take == spans_[i].take
                                     ? std::max(spans_[i].end, spans_[i - 1].farthest)
                                     : spans_[i].end;
    }

    /// In order of the result; those outside fades where there are any, otherwise the first.
    std::vector<const Segment*> of(TakeIndex take, SourceFrame at) const {
        std::vector<const Segment*> whole, fading;
        auto span = std::partition_point(spans_.begin(), spans_.end(), [&](const Span& one) {
            return std::pair(one.take, one.begin) <= std::pair(take, at);
        });
        while (span != spans_.begin() && (--span)->take == take && at < span->farthest)
            if (at < span->end) {
                const Segment& segment = *span->segment;
                const ResultFrame place = segment.placeOf(at);
                const bool inFade =
                    place < segment.sounds.begin + segment.fadeIn || place >= segment.sounds.end - segment.fadeOut;
                (inFade ? fading : whole).push_back(&segment);
            }
        const auto first = [](const Segment* a, const Segment* b) { return a->sounds.begin < b->sounds.begin; };
        std::sort(whole.begin(), whole.end(), first);
        if (whole.empty() && !fading.empty())
            return {*std::min_element(fading.begin(), fading.end(), first)};
        // A tail that fills a hole sounds there and in its own place: that is one place.
        std::vector<const Segment*> apart;
        for (const Segment* segment : whole)
            if (apart.empty() || apart.back()->sounds.end < segment->sounds.begin)
                apart.push_back(segment);
        return apart;
    }

private:
    struct Span {
        TakeIndex take;
        SourceFrame begin, end;
        SourceFrame farthest; ///< end of any span of the take that begins no later
        const Segment* segment;
    };
    std::vector<Span> spans_;
};

MicSet micsOf(const Session& session, const Patch& patch) {
    MicSet mics = 0;
    for (const std::string& stem : patch.mics)
        if (const auto mic = session.micNamed(stem))
            mics |= onlyMic(*mic);
    return mics;
}

class PatchPlanner {
public:
    PatchPlanner(const Session& session, const Plan& plan) : session_(session), places_(plan.segments) {}

    /// Wherever its place sounds.
    void add(std::size_t index, TakeIndex take, std::vector<PlannedPatch>& all) const {
        const Patch& patch = session_.patches[index];
        for (const Segment* segment : places_.of(take, patch.at.at)) {
            const ResultFrame place = segment->placeOf(patch.at.at);
            PlannedPatch planned{index, stretch(patch, take, place), {}, {}, micsOf(session_, patch), 1, {}};
            const FrameCount length = planned.sounds.length();
            const FrameCount half{length.frames / 2};
            planned.fadeIn = std::min(toFrames(patch.fadeIn, session_.rate), half);
            planned.fadeOut = std::min(toFrames(patch.fadeOut, session_.rate), length - half);
            planned.gain = patch.kind == PatchKind::silence ? 0.0F : static_cast<float>(toGain(patch.gain));
            if (patch.from)
                planned.from = sourceOf(patch, place);
            else if (patch.shift != FrameCount{0})
                planned.from =
                    SliceSource{take, SourceToResult{place - ResultFrame{patch.at.at.frame} + patch.shift}};
            if (!planned.sounds.empty())
                all.push_back(planned);
        }
    }

private:
    /// What sounds where the patch's place lies; of a seam, the slice of the hit at `from` as it lies.
    SliceSource sourceOf(const Patch& patch, ResultFrame place) const {
        const TakeIndex take = *session_.takeLettered(patch.from->take);
        const ResultFrame lies = patch.kind == PatchKind::seam ? nearest(take, patch.from->at, place) : place;
        return {take, SourceToResult{lies - ResultFrame{patch.from->at.frame} + patch.shift}};
    }
    /// Of the result, for a place of its that sounds at `place`.
    Range<ResultFrame> stretch(const Patch& patch, TakeIndex take, ResultFrame place) const {
        const Range<ResultFrame> alike{place - patch.before, place - patch.before + patch.length};
        if (patch.ofHit || patch.bringsSound())
            return alike;
        const SourceFrame begin = patch.at.at - patch.before;
        return {nearest(take, begin, alike.begin), nearest(take, begin + patch.length, alike.end)};
    }
    /// Where a frame sounds, the nearest to `expected` of its places; that where it does not sound.
    ResultFrame nearest(TakeIndex take, SourceFrame at, ResultFrame expected) const {
        ResultFrame found = expected;
        FrameCount away{limits::frames};
        for (const Segment* segment : places_.of(take, at))
            if (const ResultFrame place = segment->placeOf(at); abs(place - expected) < away) {
                found = place;
                away = abs(place - expected);
            }
        return found;
    }

    const Session& session_;
    Places places_;
};

} // namespace

PlannedPatches planPatches(const Session& session, const Plan& plan,
                           const std::function<bool(TakeIndex take, SourceFrame at)>& hasHit) {
    PlannedPatches all;
    if (session.patches.empty())
        return all;
    const PatchPlanner planner(session, plan);
    for (std::size_t index = 0; index < session.patches.size(); ++index) {
        const Patch& patch = session.patches[index];
        const auto take = session.takeLettered(patch.at.take);
        if (take && patch.ofHit && session.sounds(*take) && !hasHit(*take, patch.at.at))
            all.lost.push_back(index);
        else if (take && patch.on)
            planner.add(index, *take, all.sounding);
    }
    std::stable_sort(all.sounding.begin(), all.sounding.end(),
                     [](const PlannedPatch& a, const PlannedPatch& b) { return a.sounds.begin < b.sounds.begin; });
    return all;
}

} // namespace lampo
