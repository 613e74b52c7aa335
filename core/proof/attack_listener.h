#pragma once

#include "base/progress.h"
#include "pipeline/outcome.h"
#include "proof/hear_each.h"
#include "proof/place.h"

#include <optional>
#include <vector>

namespace lampo {

/// How far behind its landing a hit's attack was heard; none where nothing could be told.
using AttacksHeard = HeardBefore<std::optional<FrameCount>>;

/// How far behind its landing each hit's attack sounds in its drum's mic, against what is usual for that drum:
/// where the sound's edges (first differences) rise most, independent of the marks. One entry for each hit; none
/// for those that are soft, drowned or added by hand. Errors: those of AudioReader, cancelled.
Expected<std::vector<std::optional<Milliseconds>>> attacksHeard(const Session& session, const Outcome& outcome,
                                                                const KitSoundMaker& sound, AttacksHeard* known,
                                                                const Progress& progress);

/// Hits that sound late or early against the line that they landed on, by what was heard of them.
std::vector<ProofPlace> placesOfLooseHits(const Session& session, const Outcome& outcome,
                                          std::span<const std::optional<Milliseconds>> heard);

} // namespace lampo
