#pragma once

#include "map/musical_map.h"
#include "pulse/pulse_hit.h"

#include <span>
#include <vector>

namespace lampo {

/// A hit that tells where beats are, on the map's own time.
struct StrongHit {
    double beats;  ///< from the map's bar 1, in quarter notes
    double weight; ///< how much it tells, above 0
};

/// How far `frame` lies from bar 1, in quarter notes, whatever the meters.
double quartersAt(const MusicalMap& map, SongFrame frame);

std::vector<StrongHit> strongHits(const MusicalMap& map, std::span<const PulseHit> hits);

/// How much the hits agree on beats, halves and quarters of beats, were the tempo `ratio` times the map's: the
/// length of their sum as arrows that turn once in each of those. In the hits' weights.
double agreement(std::span<const StrongHit> hits, double ratio);

/// The ratio of tempos, up to a third slower or faster, that most of them agree on. `hits` are not empty.
double bestRatio(std::span<const StrongHit> hits);

/// The ratio near `ratio` that makes `bpm` the roundest tempo they agree on as well: clicks are set to round
/// numbers.
double rounded(std::span<const StrongHit> hits, double bpm, double ratio);

/// How far the beats lie behind the map's, in quarter notes, −0.5 to 0.5.
double beatsBehind(std::span<const StrongHit> hits);

} // namespace lampo
