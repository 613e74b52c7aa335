#include "strokes/strokes_so_far.h"

#include "strokes/statistics.h"

#include <algorithm>

namespace lampo {
namespace {

constexpr double leadWorth = 4;    ///< dB that a mic may be softer for each ms that it is earlier
constexpr double maxLead = 2;      ///< ms that count
constexpr double explainsFrom = 4; ///< ms that bleed may come before its stroke's date
constexpr double overheadFrom = 8; ///< the same of what overheads tell of, which may stand nearer to another mic
constexpr double explainsTo = 18;  ///< and behind it: reflections, and dates at a stroke's first rustle
constexpr double ringsTo = 45;     ///< and as its sound goes on, softer by
constexpr double fade = 0.1;       ///< dB in each ms more

/// As loud as its drum may have been, by what each band permits: dB in the weighted bands. One band may lack.
double permitted(const Event& event, const DrumModel& drum) {
    std::array<double, bandCount> limits{};
    for (std::size_t band = 0; band < bandCount; ++band) {
        const double heard = decibelsOfPower(event.added[band] + event.before[band]);
        const double softer = std::max(0.0, drum.strong.value - event.level);
        const double darker = band >= 2 ? 8 + 0.35 * softer : 7; // soft strokes are duller
        limits[band] = heard - decibelsOfPower(drum.profile[band]) + darker;
    }
    std::sort(limits.begin(), limits.end());
    return limits[1];
}

} // namespace

bool isNearer(double louder, double earlier) {
    return louder + leadWorth * std::clamp(earlier, -maxLead, maxLead) > 0;
}

double StrokesSoFar::ownLevelOf(const Event& event) const {
    return weightedDecibels(event.own, witnesses[event.witness].weights);
}

bool StrokesSoFar::isStrong(const Event& event) const {
    return event.struck && ownLevelOf(event) >= drums[event.witness].strong.value - strongWithin;
}

bool StrokesSoFar::isCause(const Event& other, const Event& event) const {
    return isNearer(other.level + levels[other.witness].trim - event.level - levels[event.witness].trim,
                    event.at - other.at);
}

Explanation explain(const StrokesSoFar& known, std::size_t e) {
    const auto& events = known.moments.events();
    const Event& event = events[e];
    const BandEnergies& weights = known.witnesses[event.witness].weights;
    Explanation explanation{{}, {}, 0, event.witness};
    Explanation fromAbove; // what overheads tell of is never as loud in a close mic as its own drum
    double loudest = 0;
    known.moments.forNear(e, ringsTo, overheadFrom, [&](std::size_t o) {
        const Event& stroke = events[o];
        const bool byOverhead = known.isOverhead(stroke.witness);
        if (!stroke.struck || stroke.at - event.at > (byOverhead ? overheadFrom : explainsFrom))
            return;
        if (byOverhead && !known.isOverhead(event.witness) && known.isCause(event, stroke))
            return; // it is rather this drum that the overhead hears
        const DrumPath& path = known.paths.at(stroke.witness, event.witness);
        const float whole = weightedPower(stroke.own, known.witnesses[stroke.witness].weights);
        BandEnergies here{};
        const double late = event.at - stroke.at - explainsTo;
        const auto faded = static_cast<float>(late > 0 ? powerOfDecibels(-fade * late) : 1);
        Explanation& side = byOverhead ? fromAbove : explanation;
        for (std::size_t band = 0; band < bandCount; ++band) {
            here[band] = faded * std::max(path.gain[band] * stroke.own[band], path.shape[band] * whole);
            side.middle[band] += here[band];
            side.most[band] += path.margin[band] * here[band];
        }
        const double power = weightedPower(here, weights);
        if (power > loudest) {
            loudest = power;
            explanation.by = stroke.witness;
            explanation.behind = event.at - stroke.at - path.late.value;
        }
    });
    const double over = known.isOverhead(event.witness) ? 0
                                                        : weightedDecibels(fromAbove.most, weights) -
                                                              (known.levels[event.witness].loudest - overheadLoss);
    const auto kept = static_cast<float>(powerOfDecibels(-std::max(0.0, over)));
    for (std::size_t band = 0; band < bandCount; ++band) {
        explanation.middle[band] += kept * fromAbove.middle[band];
        explanation.most[band] += kept * fromAbove.most[band];
    }
    return explanation;
}

Remainder remainderOf(const StrokesSoFar& known, std::size_t e, const Explanation& explanation) {
    const Event& event = known.moments.events()[e];
    const DrumModel& drum = known.drums[event.witness];
    const BandEnergies& weights = known.witnesses[event.witness].weights;
    Remainder remainder;
    double whole = 0;
    for (std::size_t band = 0; band < bandCount; ++band) {
        const double share = weights[band] * weights[band] * drum.profile[band];
        whole += share;
        if (event.added[band] > explanation.most[band]) {
            remainder.rest[band] = event.added[band] - explanation.middle[band];
            remainder.free += share;
        }
    }
    remainder.free = whole > 0 ? remainder.free / whole : 1;
    const double rest = weightedDecibels(remainder.rest, weights);
    remainder.level = std::min(rest, permitted(event, drum));
    remainder.foreign = rest - remainder.level;
    remainder.above = event.level - weightedDecibels(explanation.middle, weights);
    return remainder;
}

void measureDrums(StrokesSoFar& known) {
    std::vector<std::vector<double>> levels(known.witnesses.size());
    for (const Event& event : known.moments.events())
        if (event.struck)
            levels[event.witness].push_back(known.ownLevelOf(event));
    for (std::size_t w = 0; w < known.witnesses.size(); ++w) {
        known.drums[w].isWitness = true;
        known.drums[w].strokes = levels[w].size();
        known.drums[w].strong = {strongOf(std::move(levels[w]))};
        known.drums[w].played = known.isOverhead(w) || known.drums[w].strokes > 0;
    }
    std::vector<std::array<std::vector<double>, bandCount>> bands(known.witnesses.size());
    for (const Event& event : known.moments.events())
        if (known.isStrong(event))
            for (std::size_t band = 0; band < bandCount; ++band)
                bands[event.witness][band].push_back(decibelsOfPower(event.own[band]) - known.ownLevelOf(event));
    for (std::size_t w = 0; w < known.witnesses.size(); ++w)
        for (std::size_t band = 0; band < bandCount; ++band)
            known.drums[w].profile[band] =
                bands[w][band].empty() ? 0.0F : static_cast<float>(powerOfDecibels(quantile(bands[w][band], 0.5)));
    for (std::size_t w = 0; w < known.witnesses.size(); ++w) {
        BandEnergies& profile = known.drums[w].profile;
        const double body = decibelsOfPower(profile[0] + profile[1]) - decibelsOfPower(profile[2] + profile[3]);
        known.bodyDeficit[w] = std::max(0.0, known.witnesses[w].body.value - body);
        profile[2] *= static_cast<float>(powerOfDecibels(-known.bodyDeficit[w]));
        profile[3] *= static_cast<float>(powerOfDecibels(-known.bodyDeficit[w]));
    }
}

} // namespace lampo
