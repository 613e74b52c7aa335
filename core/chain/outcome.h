#pragma once

#include "chain/analyses.h"
#include "hits/hit_finder.h"
#include "proof/warnings.h"
#include "seams/plan.h"
#include "timing/landing.h"

namespace lampo {

/// Everything that follows from a session and its analyses. Immutable; handed from thread to thread by pointer.
struct Outcome {
    FoundHits found;
    std::vector<Landing> landings; ///< one per hit
    std::shared_ptr<const Plan> plan;
    std::vector<Warning> warnings;
};

/// All stages behind the candidates, in one go: no audio is touched, and a ten-minute session takes a few
/// milliseconds, so every change simply calls this again. Pure.
std::shared_ptr<const Outcome> outcomeOf(const Session& session, const Analyses& analyses);

} // namespace lampo
