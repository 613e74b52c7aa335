#pragma once

#include "base/error.h"
#include "map/musical_map.h"
#include "pulse/pulse_hit.h"

#include <span>
#include <vector>

namespace lampo {

/// Evenly spaced things with errors, smoothed: the x that makes Σ(x − y)² + λ·Σ(second difference of x)² least
/// (Whittaker 1923, from memory); an infinite λ gives the straight line through them. Linear time.
std::vector<double> smoothed(const std::vector<double>& values, double lambda);

/// A map whose beats follow the hits, for what was played without a click. Bar 1 stays at the beat nearest to the
/// map's origin, meters stay, and the map's tempo says about how fast it is. `smoothness` 0: every bar has its own
/// tempo; 100: one tempo. `hits` ascend. Errors: badValue (too few hits to follow).
Expected<MapData> followedMap(const MapData& map, SampleRate rate, std::span<const PulseHit> hits,
                              double smoothness);

} // namespace lampo
