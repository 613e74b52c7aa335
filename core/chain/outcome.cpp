#include "chain/outcome.h"

#include "seams/planner.h"

namespace lampo {

std::shared_ptr<const Outcome> outcomeOf(const Session& session, const Analyses& analyses, const Outcome* before) {
    auto outcome = std::make_shared<Outcome>();
    if (session.empty()) {
        outcome->plan = std::make_shared<const Plan>();
        return outcome;
    }
    outcome->heard = analyses.of(session, session.take());
    std::vector<const MicAnalysis*> perMic;
    for (const auto& analysis : outcome->heard)
        perMic.push_back(analysis.get());
    for (const Mic& mic : session.mics)
        outcome->guides.push_back(mic.guide);
    const bool sameBleed =
        before && before->bleed && before->heard == outcome->heard && before->guides == outcome->guides;
    outcome->bleed =
        sameBleed ? before->bleed : std::make_shared<const BleedJudgement>(judgeBleed(session, perMic));
    outcome->found = findHits(session, session.take(), perMic, *outcome->bleed);
    outcome->landings = land(session, MusicalMap(session.map, session.rate), outcome->found.hits);
    outcome->plan = std::make_shared<const Plan>(planSlices(session, outcome->found.hits, outcome->landings));
    outcome->warnings = warningsOf(session, outcome->found, outcome->landings, *outcome->plan);
    return outcome;
}

} // namespace lampo
