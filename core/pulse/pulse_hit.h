#pragma once

#include "base/position.h"
#include "base/units.h"
#include "session/role.h"

#include <vector>

namespace lampo {

/// What is known of a hit when the pulse is looked for.
struct PulseHit {
    SongFrame at;               ///< as played
    Voice voice = Voice::other; ///< the drum that struck
    Decibels level{};           ///< relative to its mic's typical strong hit
};

/// How much it says about the pulse, 0 to 1: strong hits of kick and snare most. Common practice, no source.
double weightOf(const PulseHit& hit);

/// Strong enough to tell where beats are.
bool isStrong(const PulseHit& hit);

} // namespace lampo
