#pragma once

#include "pipeline/outcome.h"
#include "proof/place.h"

#include <vector>

namespace lampo {

/// What hits, landings, plan and map already tell, without listening: lines that are doubtful or that no neighbour
/// goes along to, hits that lie otherwise to one another than they were played, far moves, long holes, stretched
/// and repeated tails, shifted patches, what was lost, and what the map check doubts. Runs of far moves and of long
/// holes are one place each. Pure.
std::vector<ProofPlace> placesOfPlan(const Session& session, const Outcome& outcome);

} // namespace lampo
