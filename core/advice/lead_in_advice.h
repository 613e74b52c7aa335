#pragma once

#include "pipeline/outcome.h"

namespace lampo {

/// What one lead-in would do.
struct LeadInFigure {
    Milliseconds leadIn;        ///< before each hit's earliest attack
    std::ptrdiff_t cutsOff = 0; ///< hits with an earlier sound that belongs to them, and begins before the lead-in
    std::ptrdiff_t letsIn = 0;  ///< hits whose lead-in begins within the attack of a sound that is not theirs
};

/// What several would do, side by side.
struct LeadInAdvice {
    std::vector<LeadInFigure> figures; ///< for 0, 5, 10 and 15 ms
    Milliseconds suggested{};          ///< that of them which does least of both
    std::ptrdiff_t hits = 0;           ///< how many were looked at
};

/// Looks at the strokes of all drums before the hits that land within a stretch of the song. A stroke belongs to a
/// hit when it lies within the time in which strokes are one hit, and nearer to it than to the hit before.
LeadInAdvice adviseLeadIn(const Session& session, const Outcome& outcome, Range<SongFrame> within);

} // namespace lampo
