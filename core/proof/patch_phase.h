#pragma once

#include "base/progress.h"
#include "pipeline/outcome.h"
#include "proof/kit_sound.h"
#include "proof/place.h"

#include <vector>

namespace lampo {

/// Patches on some of a drum's mics that lie otherwise to its other mics than the recording has them. Errors: those
/// of AudioReader, cancelled.
Expected<std::vector<ProofPlace>> placesOfPhase(const Session& session, const Outcome& outcome,
                                                const KitSoundMaker& sound, const Progress& progress);

} // namespace lampo
