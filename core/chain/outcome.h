#pragma once

#include "chain/analyses.h"
#include "hits/hit_finder.h"
#include "proof/warnings.h"
#include "seams/plan.h"
#include "timing/landing.h"

namespace lampo {

/// Everything that follows from a session and its analyses. Immutable; handed from thread to thread by pointer.
struct Outcome {
    std::vector<std::shared_ptr<const MicAnalysis>> heard; ///< one per mic, null where it was not listened to
    std::vector<bool> guides;                              ///< one per mic
    std::shared_ptr<const BleedJudgement> bleed;           ///< follows from the two above; null without a take
    FoundHits found;
    std::vector<Landing> landings; ///< one per hit
    std::shared_ptr<const Plan> plan;
    std::vector<Warning> warnings;
};

/// All stages behind the candidates, in one go: no audio is touched, and a ten-minute session takes a few
/// milliseconds, so every change simply calls this again. What the outcome before knows about bleed is taken over
/// when the same guides were heard. Pure.
std::shared_ptr<const Outcome> outcomeOf(const Session& session, const Analyses& analyses,
                                         const Outcome* before = nullptr);

} // namespace lampo
