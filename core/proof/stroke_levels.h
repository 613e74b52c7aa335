#pragma once

#include "base/progress.h"
#include "pipeline/outcome.h"
#include "proof/hear_each.h"
#include "proof/place.h"

#include <optional>
#include <vector>

namespace lampo {

/// How loud every mic hears every hit: hits x mics, dBFS over 50 ms; empty for cuts without an attack.
using StrokeLevels = std::vector<std::vector<float>>;

/// Those of single hits.
using LevelsHeard = HeardBefore<std::vector<float>>;

/// Errors: those of AudioReader, cancelled.
Expected<StrokeLevels> strokeLevels(const Session& session, const Outcome& outcome, const KitSoundMaker& sound,
                                    LevelsHeard* known, const Progress& progress);

/// Mics that hear nothing of strokes that all others hear, several in a row, though they usually do: they may have
/// fallen to their noise. Pure.
std::vector<ProofPlace> placesOfDropouts(const Session& session, const Outcome& outcome,
                                         const StrokeLevels& levels);

/// Mics whose level jumps at a border between takes against what the other mics do, by the strokes of the same
/// drums on both sides. Pure.
std::vector<ProofPlace> placesOfLevels(const Session& session, const Outcome& outcome, const StrokeLevels& levels);

} // namespace lampo
