#include "strokes/stroke_revision.h"

#include "strokes/boosted_trees.h"
#include "strokes/statistics.h"
#include "strokes/stroke_features.h"

#include <algorithm>
#include <utility>
#include <vector>

namespace lampo {
namespace {

constexpr double noStroke = 0.07; ///< a stroke by the rules that is less probable is none
constexpr double stroke = 0.5;    ///< what the rules refused is one if it is more probable

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

bool canBeRevised(const StrokesSoFar& known, std::size_t e) {
    const Event& event = known.moments.events()[e];
    const DrumModel& drum = known.drums[event.witness];
    return known.witnesses[event.witness].body > noBody && drum.played && !known.idle[event.witness] &&
           event.level > drum.strong.value - softestStroke;
}

void reviseStrokes(StrokesSoFar& known) {
    if (known.witnesses.size() < 2)
        return;
    const FeatureReader features(known);
    auto& events = known.moments.events();
    std::vector<std::pair<std::size_t, BandEnergies>> reversed;
    for (std::size_t e = 0; e < events.size(); ++e) {
        if (!canBeRevised(known, e))
            continue;
        const Event& event = events[e];
        const double probability = strokeProbability(features.of(e));
        if (event.struck ? probability < noStroke : probability > stroke)
            reversed.emplace_back(e, event.struck ? BandEnergies{} : ownPartOf(known, e));
    }
    for (const auto& [e, own] : reversed) {
        events[e].struck = !events[e].struck;
        events[e].own = own;
    }
    measureDrums(known);
}

} // namespace lampo
