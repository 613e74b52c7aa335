#pragma once

#include "pipeline/outcome.h"
#include "proof/place.h"

#include <vector>

namespace lampo {

/// Strokes of any drum of which the plan plays less than half of the attack, and those of which it plays more than
/// a sixteenth once more within a moment: by the fades of all slices that they lie in, as powers over the first
/// 10 ms. What a stretched tail or another take plays counts as well. Pure.
std::vector<ProofPlace> placesOfStrokes(const Session& session, const Outcome& outcome);

} // namespace lampo
