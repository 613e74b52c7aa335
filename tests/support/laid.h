#pragma once

#include "seams/planner.h"

namespace lampo::test {

/// The plan of one take's hits with the landings given.
inline Plan planOf(const Session& session, const std::vector<Hit>& hits, const std::vector<Landing>& landings) {
    const auto laid = std::make_shared<LaidTake>();
    laid->where.shift = session.take().shift();
    laid->hits = hits;
    laid->landings = landings;
    return planSlices(session, chooseHits(session, [&](const Piece&) { return laid; }));
}

} // namespace lampo::test
