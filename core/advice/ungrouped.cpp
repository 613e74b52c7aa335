#include "advice/ungrouped.h"

#include "advice/hit_stroke.h"
#include "session/refusals.h"

#include <algorithm>

namespace lampo {
namespace {

constexpr const char* cannot = "For some mics alone hits can be moved or taken out, and seams shaped: for anything "
                               "else let the kit be one again";

class Ungrouped {
public:
    Ungrouped(const Session& session, const Outcome& outcome, const std::vector<std::string>& mics)
        : session_(session), outcome_(outcome), mics_(mics) {}

    /// `then`: what the corrections would make of the hits of all mics.
    Expected<PatchEdit> corrected(const std::vector<Correction>& corrections, const Outcome& then) const {
        AddPatches edit;
        for (const Correction& correction : corrections) {
            const auto hit = hitAt({correction.take, correction.at});
            if (correction.kind == Correction::Kind::remove && hit)
                edit.patches.push_back(overSlice(session_, outcome_, *hit, PatchKind::silence, mics_));
            else if (correction.kind == Correction::Kind::place && hit)
                addMove(*hit, askedFor(*hit, correction), edit);
            else if (aspectOf(correction.kind) == Aspect::landing && hit)
                addMove(*hit, movedIn(then, *hit), edit);
            else
                return refuse(cannot);
        }
        return moved(edit);
    }

    /// Every hit that lands elsewhere in `then`.
    Expected<PatchEdit> movedByHand(const Outcome& then) const {
        AddPatches edit;
        for (HitIndex hit; hit < outcome_.hits.size(); ++hit)
            addMove(hit, movedIn(then, hit), edit);
        return moved(edit);
    }

    /// As the seams lie in another plan of the same hits.
    Expected<PatchEdit> shaped(const std::vector<SeamByHand>& seams, const Plan& wanted) const {
        AddPatches edit;
        for (const SeamByHand& said : seams) {
            const Seam* is = seamOf(*outcome_.plan, said.between);
            const Seam* shall = seamOf(wanted, said.between);
            const auto earlier = hitAt({said.between.take, said.between.before});
            const auto later = hitAt({said.between.take, said.between.behind});
            if (!is || !shall || !earlier || !later || is->range == shall->range)
                continue;
            edit.patches.push_back(joined(*earlier, *later, is->range, between(*later, is->range, shall->range)));
        }
        if (edit.patches.empty())
            return refuse("The seam lies there already, or is none between two hits");
        return PatchEdit{edit};
    }

private:
    std::optional<HitIndex> hitAt(const TakePlace& at) const {
        const FrameCount near = correctionTolerance(session_.rate);
        std::optional<HitIndex> nearest;
        FrameCount away = near;
        for (HitIndex hit; hit < outcome_.hits.size(); ++hit) {
            const TakePlace place = placeOf(session_, outcome_.hits[hit]);
            if (place.take == at.take && abs(place.at - at.at) <= away) {
                away = abs(place.at - at.at);
                nearest = hit;
            }
        }
        return nearest;
    }
    static const Seam* seamOf(const Plan& plan, const SeamBetween& between) {
        const auto seam = std::find_if(plan.seams.begin(), plan.seams.end(),
                                       [&](const Seam& one) { return one.between == between; });
        return seam == plan.seams.end() ? nullptr : &*seam;
    }
    static Expected<PatchEdit> moved(const AddPatches& edit) {
        if (edit.patches.empty())
            return refuse("Nothing would land elsewhere");
        return PatchEdit{edit};
    }
    /// As told: what holds hits together that cannot be cut apart does not hold these mics.
    FrameCount askedFor(HitIndex index, const Correction& correction) const {
        const SongHit& hit = outcome_.hits[index];
        return asResult(hit.found() + hit.shift + correction.moved) - outcome_.landings[index].at;
    }
    /// None where there are other hits.
    FrameCount movedIn(const Outcome& then, HitIndex index) const {
        const SongHit& hit = outcome_.hits[index];
        const bool isThere = index < then.hits.size() && then.hits[index].found() == hit.found() &&
                             then.hits[index].besideInItsTake(hit);
        return isThere ? then.landings[index].at - outcome_.landings[index].at : FrameCount{};
    }
    void addMove(HitIndex index, FrameCount by, AddPatches& edit) const {
        if (by == FrameCount{})
            return;
        const SongHit& hit = outcome_.hits[index];
        Patch patch = overSlice(session_, outcome_, index, PatchKind::shift, mics_);
        patch.shift = by;
        if (const auto there = patchOn(session_, hit, PatchKind::shift, mics_)) {
            patch.at = session_.patches[*there].at;
            patch.shift = patch.shift + session_.patches[*there].shift;
        }
        // Where it sounds now lies inside, and where it sounded.
        if (patch.shift < FrameCount{}) {
            patch.before = patch.before - patch.shift;
            patch.length = patch.length - patch.shift;
        }
        edit.patches.push_back(patch);
    }
    /// Where the seam shall lie on these mics: as far from where an earlier patch put it as it was moved now.
    Range<ResultFrame> between(HitIndex later, Range<ResultFrame> is, Range<ResultFrame> shall) const {
        const auto there = patchOn(session_, outcome_.hits[later], PatchKind::seam, mics_);
        if (!there)
            return shall;
        const Patch& patch = session_.patches[*there];
        const ResultFrame begin = outcome_.landings[later].at - patch.before, end = begin + patch.length;
        const Range<ResultFrame> now =
            patch.from == patch.at ? Range<ResultFrame>{begin, begin + toFrames(patch.fadeIn, session_.rate)}
                                   : Range<ResultFrame>{end - toFrames(patch.fadeOut, session_.rate), end};
        const ResultFrame from = now.begin + (shall.begin - is.begin);
        return {from, std::max(from + shortest(), now.end + (shall.end - is.end))};
    }
    /// The later slice comes up earlier over what the plan has there, or the earlier one sounds on longer.
    Patch joined(HitIndex earlier, HitIndex later, Range<ResultFrame> is, Range<ResultFrame> shall) const {
        const bool sooner = shall.begin <= is.begin;
        const ResultFrame begin = sooner ? shall.begin : is.begin - shortest();
        const ResultFrame end = std::max(is.end, shall.end) + (sooner ? shortest() : FrameCount{});
        Patch patch;
        patch.kind = PatchKind::seam;
        patch.mics = mics_;
        patch.at = placeOf(session_, outcome_.hits[later]);
        patch.from = placeOf(session_, outcome_.hits[sooner ? later : earlier]);
        patch.before = outcome_.landings[later].at - begin;
        patch.length = end - begin;
        patch.fadeIn = patch.fadeOut = {limits::patchFade.low};
        const double fade = toMilliseconds(shall.length(), session_.rate).value;
        (sooner ? patch.fadeIn : patch.fadeOut) = {std::clamp(fade, limits::patchFade.low, limits::patchFade.high)};
        return patch;
    }
    FrameCount shortest() const { return toFrames(Milliseconds{limits::patchFade.low}, session_.rate); }

    const Session& session_;
    const Outcome& outcome_;
    const std::vector<std::string>& mics_;
};

} // namespace

bool editsHitsOrSeams(const Edit& edit) {
    if (const auto* detection = std::get_if<DetectionEdit>(&edit))
        return std::holds_alternative<Correct>(*detection) || std::holds_alternative<DeleteCorrections>(*detection);
    const auto* seam = std::get_if<SeamEdit>(&edit);
    return (seam && std::holds_alternative<ShapeSeams>(*seam)) || std::holds_alternative<HandEdit>(edit);
}

Expected<PatchEdit> onMicsAlone(const Session& session, const Analyses& analyses, const Outcome& outcome,
                                const std::vector<std::string>& mics, const Edit& edit) {
    if (mics.empty())
        return refuse("Choose first on which mics alone");
    if (!editsHitsOrSeams(edit))
        return refuse(cannot);
    return edited(session, edit).and_then([&](const Session& then) -> Expected<PatchEdit> {
        const Ungrouped ungrouped(session, outcome, mics);
        const auto all = outcomeOf(then, analyses, &outcome);
        if (std::holds_alternative<HandEdit>(edit))
            return ungrouped.movedByHand(*all);
        if (const auto* seam = std::get_if<SeamEdit>(&edit))
            return ungrouped.shaped(std::get<ShapeSeams>(*seam).seams, *all->plan);
        if (const auto* correct = std::get_if<Correct>(&std::get<DetectionEdit>(edit)))
            return ungrouped.corrected(correct->corrections, *all);
        return refuse(cannot);
    });
}

} // namespace lampo
