#pragma once

#include "hits/hit_finder.h"
#include "seams/plan.h"
#include "timing/landing.h"

#include <string>
#include <string_view>

namespace lampo {

enum class WarningKind { doubtfulLine, movedFar, heldTogether, longHole, lostCorrection, nothingFound };
std::string_view name(WarningKind kind);

/// A place that wants an ear.
struct Warning {
    ResultFrame at;
    WarningKind kind = WarningKind::doubtfulLine;
    std::string text;   ///< one sentence
    double gravity = 0; ///< the worse, the larger
};

/// What hits, landings and plan already tell, worst first.
std::vector<Warning> warningsOf(const Session& session, const FoundHits& found, std::span<const Landing> landings,
                                const Plan& plan);

} // namespace lampo
