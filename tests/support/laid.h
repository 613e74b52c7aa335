#pragma once

#include "seams/planner.h"

#include <algorithm>

namespace lampo::test {

/// The plan of one take's hits with the landings given.
inline Plan planOf(const Session& session, const std::vector<Hit>& hits, const std::vector<Landing>& landings) {
    const auto laid = std::make_shared<LaidTake>();
    laid->where.shift = session.take().shift();
    laid->hits = hits;
    laid->landings = landings;
    return planSlices(session, chooseHits(session, [&](const Piece&) { return laid; }));
}

/// For each frame of the result, whether two slices sound there, or a stretched tail.
inline std::vector<bool> insideSeams(const Plan& plan) {
    std::vector<bool> inside(static_cast<std::size_t>(plan.length.frames));
    for (const Seam& seam : plan.seams)
        std::fill(inside.begin() + seam.range.begin.frame, inside.begin() + seam.range.end.frame, true);
    for (const Segment& segment : plan.segments)
        if (segment.stretch)
            std::fill(inside.begin() + segment.sounds.begin.frame, inside.begin() + segment.sounds.end.frame, true);
    return inside;
}

} // namespace lampo::test
