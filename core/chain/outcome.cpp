#include "chain/outcome.h"

#include "seams/planner.h"

namespace lampo {

std::shared_ptr<const Outcome> outcomeOf(const Session& session, const Analyses& analyses) {
    auto outcome = std::make_shared<Outcome>();
    if (session.empty()) {
        outcome->plan = std::make_shared<const Plan>();
        return outcome;
    }
    std::vector<std::shared_ptr<const MicAnalysis>> kept;
    std::vector<const MicAnalysis*> perMic;
    for (std::size_t mic = 0; mic < session.mics.size(); ++mic) {
        kept.push_back(analyses.of(session.take().files[mic], session.mics[mic].role));
        perMic.push_back(kept.back().get());
    }
    outcome->found = findHits(session, session.take().letter, perMic);
    outcome->landings = land(session, MusicalMap(session.map, session.rate), outcome->found.hits);
    outcome->plan = std::make_shared<const Plan>(planSlices(session, outcome->found.hits, outcome->landings));
    outcome->warnings = warningsOf(session, outcome->found, outcome->landings, *outcome->plan);
    return outcome;
}

} // namespace lampo
