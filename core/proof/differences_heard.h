#pragma once

#include "base/progress.h"
#include "pipeline/outcome.h"
#include "proof/place.h"
#include "proof/whole_mics.h"

#include <vector>

namespace lampo {

/// Where a print is not what the edit sounds like, and what became of it there. `heard` is lined up. Levels of
/// whole mics, a polarity and a delay of all of them are taken for granted, and what differs throughout, as after
/// an equaliser, counts only where there is more of it. Streams; memory does not grow with the song. Errors: those
/// of AudioReader, cancelled.
Expected<std::vector<ProofPlace>> placesOfDifferences(const Session& session, const Outcome& outcome,
                                                      const std::vector<WholeMic>& whole,
                                                      const KitSoundMaker& expected, const KitSoundMaker& heard,
                                                      const Progress& progress);

} // namespace lampo
