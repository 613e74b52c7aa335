#include "support/labelled_events.h"

#include "strokes/stroke_revision.h"

#include <cmath>

namespace lampo::test {
namespace {

constexpr double within = 12; ///< ms

bool isOfDrum(const std::string& stem, const std::string& drum) {
    return stem.substr(0, 5) == drum.substr(0, 5);
}

void label(LabelledKit& labelled, const RandomKit& kit, const TrueStroke& stroke) {
    const auto& events = labelled.known.moments.events();
    const double at = 1000.0 * static_cast<double>(stroke.at) / kit.rate;
    const auto rank = [&](std::size_t e) { return std::abs(events[e].at - at) - (events[e].struck ? within : 0); };
    std::optional<std::size_t> best;
    for (std::size_t e = 0; e < events.size(); ++e) {
        const std::size_t w = events[e].witness;
        if (labelled.known.isOverhead(w) || std::abs(events[e].at - at) > within ||
            !isOfDrum(labelled.heard.session.mics[labelled.witnesses[w].mic].stem, kit.drums[stroke.drum]))
            continue;
        if (!labelled.isStroke[e].value_or(false))
            labelled.isStroke[e] = std::nullopt;
        if (!best || rank(e) < rank(*best))
            best = e;
    }
    if (best)
        labelled.isStroke[*best] = true;
}

} // namespace

bool LabelledKit::isLabelled(std::size_t event) const {
    return isStroke[event] && canBeRevised(known, event);
}

LabelledKit labelledKit(const RandomKit& kit) {
    AnalysedKit heard = analyseKit(kit);
    auto witnesses = witnessesOf(heard.session, heard.outcome->takes.front()->strokesKey.analyses);
    StrokesSoFar known = strokesByRules(witnesses, heard.session.rate);
    std::vector<std::optional<bool>> isStroke(known.moments.events().size(), false);
    LabelledKit labelled{std::move(heard), std::move(witnesses), std::move(known), std::move(isStroke)};
    for (const TrueStroke& stroke : kit.strokes)
        label(labelled, kit, stroke);
    return labelled;
}

} // namespace lampo::test
