#include "strokes/stroke_weighing.h"

#include "strokes/evidence_trees.h"
#include "strokes/statistics.h"
#include "strokes/stroke_evidence.h"

#include <algorithm>
#include <utility>
#include <vector>

namespace lampo {
namespace {

constexpr double noStroke = 0.1; ///< a stroke by the rules that is less likely is none
constexpr double stroke = 0.8;   ///< what the rules refused is one if it is likelier: a false hit takes a line

/// What is left for its own drum; the whole of it where nothing is left.
BandEnergies ownPartOf(const StrokesSoFar& known, std::size_t e) {
    const Explanation explanation = explain(known, e);
    const Event& event = known.moments.events()[e];
    BandEnergies own = remainderOf(known, e, explanation).rest;
    for (std::size_t band = 0; band < bandCount; ++band)
        own[band] = std::max(own[band], event.added[band] - std::min(explanation.middle[band], event.added[band]));
    return weightedPower(own, known.witnesses[event.witness].weights) > 0 ? own : event.added;
}

} // namespace

bool canBeWeighed(const StrokesSoFar& known, std::size_t e) {
    const Event& event = known.moments.events()[e];
    const DrumModel& drum = known.drums[event.witness];
    return known.witnesses[event.witness].body > noBody && drum.played &&
           event.level > drum.strong.value - softestStroke;
}

void weighStrokes(StrokesSoFar& known) {
    if (known.witnesses.size() < 2)
        return;
    const EvidenceOfStrokes evidence(known);
    auto& events = known.moments.events();
    std::vector<std::pair<std::size_t, BandEnergies>> turned;
    for (std::size_t e = 0; e < events.size(); ++e) {
        if (!canBeWeighed(known, e))
            continue;
        const Event& event = events[e];
        const double likelihood = likelihoodOf(evidence.of(e));
        if (event.struck ? likelihood < noStroke : likelihood > stroke)
            turned.emplace_back(e, event.struck ? BandEnergies{} : ownPartOf(known, e));
    }
    for (const auto& [e, own] : turned) {
        events[e].struck = !events[e].struck;
        events[e].own = own;
    }
    measureDrums(known);
}

} // namespace lampo
