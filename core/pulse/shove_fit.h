#pragma once

#include "map/musical_map.h"
#include "pulse/pulse_hit.h"

#include <span>

namespace lampo {

/// By how much a passage should be shoved so that its drums fall where the rest of the song has them and its hits
/// on sixteenths: up to one beat to either side. 0 where nothing fits better. `passage` and `rest` ascend. Pure.
FrameCount bestShove(const MusicalMap& map, std::span<const PulseHit> passage, std::span<const PulseHit> rest);

} // namespace lampo
