#include "strokes/stroke_assignment.h"

#include "strokes/statistics.h"
#include "strokes/stroke_revision.h"
#include "strokes/stroke_rules.h"

#include <algorithm>
#include <set>
#include <utility>

namespace lampo {
namespace {

std::vector<std::vector<StrokeVerdict>> verdictsOf(const StrokesSoFar& known) {
    std::vector<std::vector<StrokeVerdict>> verdicts;
    for (std::size_t w = 0; w < known.witnesses.size(); ++w)
        verdicts.emplace_back(known.witnesses[w].analysis->candidates.size());
    for (std::size_t e = 0; e < known.moments.events().size(); ++e) {
        const Event& event = known.moments.events()[e];
        const Explanation explained = explain(known, e);
        const BandEnergies& weights = known.witnesses[event.witness].weights;
        const double predicted = weightedDecibels(explained.middle, weights);
        const DrumModel& drum = known.drums[event.witness];
        const double strong = drum.strokes > 0 ? drum.strong.value : known.levels[event.witness].loudest;
        StrokeVerdict& verdict = verdicts[event.witness][event.candidate];
        verdict.explainedBy = known.witnesses[event.struck ? event.witness : explained.by].mic;
        verdict.aboveBleed = {std::clamp(event.level - predicted, -60.0, 60.0)};
        if (event.struck) {
            verdict.level = {known.ownLevelOf(event) - strong};
        } else {
            verdict.kind = explained.by == event.witness ? StrokeVerdict::Kind::unlike : StrokeVerdict::Kind::bleed;
            verdict.level = {event.level - strong};
        }
    }
    return verdicts;
}

/// What sounds like bleed is bleed.
void refuseWhatSoundsLikeBleed(StrokesSoFar& known) {
    std::set<std::pair<std::uint32_t, std::int64_t>> struck; // by witness and where it begins
    const auto candidateOf = [&](const Event& event) -> const Candidate& {
        return known.witnesses[event.witness].analysis->candidates[event.candidate];
    };
    for (const Event& event : known.moments.events())
        if (event.struck)
            struck.emplace(event.witness, candidateOf(event).at.frame);
    for (Event& event : known.moments.events())
        if (const auto like = candidateOf(event).like; like && !struck.contains({event.witness, like->frame})) {
            event.struck = false;
            event.own = {};
        }
    measureDrums(known);
}

} // namespace

StrokeAssignment assignStrokes(std::span<const Witness> witnesses, SampleRate rate) {
    StrokesSoFar known = strokesByRules(witnesses, rate);
    reviseStrokes(known);
    refuseWhatSoundsLikeBleed(known);
    auto verdicts = verdictsOf(known);
    return {std::move(known.drums), std::move(known.paths), std::move(verdicts)};
}

} // namespace lampo
