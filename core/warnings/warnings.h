#pragma once

#include "comp/choice.h"
#include "hits/song_hit.h"
#include "seams/plan.h"
#include "timing/landing.h"

#include <optional>
#include <string>
#include <string_view>

namespace lampo {

/// Longer ones are worth an ear; common practice, no source.
inline constexpr Milliseconds longestHole{50};

enum class WarningKind {
    doubtfulLine,
    unlikeStroke,
    movedFar,
    heldTogether,
    longHole,
    stretchedTail,
    repeatedTail,
    beyondReach,
    crowdedBorder,
    lostCorrection,
    lostSeam,
    lostPatch,
    shiftedPatch,
    nothingFound
};
std::string_view name(WarningKind kind);

/// A place that wants an ear.
struct Warning {
    ResultFrame at;                               ///< where it sounds
    WarningKind kind = WarningKind::doubtfulLine; ///< what it is about
    std::string text;                             ///< one sentence
    double gravity = 0;                           ///< the worse, the larger
    std::optional<TakePlace> said{};              ///< where the user said what finds nothing any more
};

/// What is looked at.
struct Edited {
    std::span<const SongHit> hits;           ///< all that sound, in order
    std::span<const Landing> landings;       ///< one per hit
    std::span<const Correction> lost;        ///< corrections that no longer find their hit
    std::span<const CrowdedBorder> crowded;  ///< borders that found no quiet place
    const Plan& plan;                        ///< of the same hits
    std::span<const SeamByHand> lostSeams{}; ///< seams by hand one of whose hits is gone
    std::span<const Patch> lostPatches{};    ///< patches whose hit is gone
};

/// What hits, landings and plan already tell, worst first.
std::vector<Warning> warningsOf(const Session& session, const Edited& edit);

} // namespace lampo
