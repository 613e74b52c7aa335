#pragma once

#include "pulse/pulse_hit.h"

#include <span>
#include <vector>

namespace lampo {

/// The beats of a performance without a click, from the first hit to the last: dynamic programming over the place
/// and the length of each beat (after Ellis, "Beat tracking by dynamic programming", 2007, from memory, with the
/// length kept beside the place, so that the tempo may wander by a third). Each beat is then put on the hits around
/// it. `hits` ascend; `beat` is about how long a beat lasts. Fewer than two hits: none. Time: 100 places a second x
/// 45 lengths.
std::vector<double> trackBeats(std::span<const PulseHit> hits, SampleRate rate, Seconds beat);

} // namespace lampo
