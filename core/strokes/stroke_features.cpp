#include "strokes/stroke_features.h"

#include "strokes/statistics.h"

#include <algorithm>
#include <cassert>

namespace lampo {
namespace {

constexpr double longAgo = 400; ///< ms: further strokes are as good as none
constexpr double nothing = -60; ///< dB, for what is not there

double limited(double decibels) {
    return std::clamp(decibels, nothing, -nothing);
}

double bodyOver(const BandEnergies& bands) {
    return decibelsOfPower(bands[0] + bands[1]) - decibelsOfPower(bands[2] + bands[3]);
}

} // namespace

/// What else was heard about then.
struct FeatureReader::Neighbours {
    std::size_t causes = 0;        ///< mics that hear it louder or earlier
    double loudest = nothing;      ///< dB of the loudest in another close mic above this one
    double lead = 0;               ///< ms by which that one is earlier
    double loudestThere = nothing; ///< dB of it against its own drum's strong strokes
    double above = nothing;        ///< dB of the loudest overhead's against its loudest events
};

FeatureReader::FeatureReader(const StrokesSoFar& known)
    : known_(known), bleed_(known.witnesses.size(), -200), struck_(known.witnesses.size()),
      heard_(known.witnesses.size()) {
    for (std::size_t e = 0; e < known.moments.events().size(); ++e) {
        const Event& event = known.moments.events()[e];
        heard_[event.witness].push_back(e);
        if (event.struck)
            struck_[event.witness].push_back(e);
    }
    for (std::size_t w = 0; w < bleed_.size(); ++w)
        for (std::size_t drum = 0; drum < bleed_.size(); ++drum)
            if (drum != w && !known.isOverhead(drum) && known.drums[drum].played)
                bleed_[w] =
                    std::max(bleed_[w],
                             bleedOf(known.paths.at(drum, w), known.drums[drum], known.witnesses[w].weights).value);
}

double FeatureReader::againstStrong(const Event& event) const {
    return event.level - known_.drums[event.witness].strong.value;
}

FeatureReader::Neighbours FeatureReader::neighboursOf(std::size_t e) const {
    const auto& events = known_.moments.events();
    const Event& event = events[e];
    Neighbours near;
    known_.moments.forNear(e, sameMoment, sameMoment, [&](std::size_t o) {
        const Event& other = events[o];
        if (!known_.drums[other.witness].played)
            return; // it bears no witness
        if (known_.isOverhead(other.witness)) {
            near.above = std::max(near.above, other.level - known_.levels[other.witness].loudest);
            return;
        }
        const double there = againstStrong(other), lead = event.at - other.at;
        const double louder = there - againstStrong(event);
        near.causes += isNearer(louder, lead) ? 1 : 0;
        if (louder <= near.loudest)
            return;
        near.loudest = louder;
        near.lead = lead;
        near.loudestThere = there;
    });
    return near;
}

StrokeFeatures FeatureReader::of(std::size_t e) const {
    const auto& events = known_.moments.events();
    const Event& event = events[e];
    const std::size_t w = event.witness;
    const DrumModel& drum = known_.drums[w];
    const Explanation explanation = explain(known_, e);
    const Remainder left = remainderOf(known_, e, explanation);
    const Neighbours near = neighboursOf(e);
    const BandEnergies& weights = known_.witnesses[w].weights;

    StrokeFeatures features{};
    std::size_t count = 0;
    const auto add = [&](double value) { features.at(count++) = static_cast<float>(value); };
    const auto addDecibels = [&](double value) { add(limited(value)); };
    addDecibels(event.level - drum.strong.value);
    addDecibels(event.level - known_.levels[w].loudest);
    addDecibels(left.level - drum.strong.value);
    addDecibels(left.above);
    addDecibels(event.level - weightedDecibels(explanation.most, weights));
    add(left.free);
    addDecibels(left.foreign);
    for (std::size_t band = 0; band < bandCount; ++band)
        addDecibels(decibelsOfPower(event.added[band]) - decibelsOfPower(explanation.middle[band]));
    for (std::size_t band = 0; band < bandCount; ++band)
        addDecibels(decibelsOfPower(event.added[band]) - decibelsOfPower(drum.profile[band]) - event.level);
    for (std::size_t band = 0; band < bandCount; ++band)
        addDecibels(decibelsOfPower(event.added[band]) - decibelsOfPower(event.before[band]));
    add(explanation.by == w ? -nothing : explanation.behind);
    addDecibels(bodyOver(event.added) - bodyOver(drum.profile));
    add(static_cast<double>(near.causes));
    addDecibels(near.loudest);
    add(near.lead);
    addDecibels(near.loudestThere);
    addDecibels(near.above);
    addDecibels(bleed_[w] - drum.strong.value);

    // What the same mic heard before, and next.
    const auto& struck = struck_[w];
    const auto after = std::lower_bound(struck.begin(), struck.end(), e);
    const bool wasStruck = after != struck.begin() && event.at - events[*(after - 1)].at < longAgo;
    add(wasStruck ? event.at - events[*(after - 1)].at : longAgo);
    addDecibels(wasStruck ? event.level - events[*(after - 1)].level : -nothing);
    const auto& heard = heard_[w];
    const auto later = std::upper_bound(heard.begin(), heard.end(), e);
    const bool goesOn = later != heard.end() && events[*later].at - event.at < longAgo;
    add(goesOn ? events[*later].at - event.at : longAgo);
    addDecibels(goesOn ? event.level - events[*later].level : -nothing);
    add(event.struck ? 1 : 0);
    assert(count == strokeFeatureCount);
    return features;
}

} // namespace lampo
