#pragma once

#include "base/position.h"
#include "base/units.h"
#include "onsets/attack_sound.h"
#include "onsets/band_energies.h"

#include <optional>
#include <vector>

namespace lampo {

/// A possible onset of one mic.
struct Candidate {
    SourceFrame at;        ///< the first frame of the attack
    Decibels level;        ///< relative to the mic's typical strong hit, in the mic's weighted bands
    Decibels rise;         ///< how far the weighted bands rose above what sounded before
    BandEnergies added{};  ///< mean squares (full scale = 1) by which each band rose; not weighted
    BandEnergies before{}; ///< each band's loudest hop shortly before
    /// Told, and dated, by what it sounds like: a stroke that begins there, see familiarStrokes(). None: by how its
    /// loudness rises.
    std::optional<SourceFrame> like{};
    bool operator==(const Candidate&) const = default;
};

/// All there is to know about one mic of one take; thresholds only choose among it.
struct MicAnalysis {
    std::vector<Candidate> candidates{}; ///< in order of time
    Decibels strong{-200};               ///< the typical strong hit, dBFS in the weighted bands; −200 when silent
    AttackSounds sounds{};               ///< of each candidate, in the same order; or none of any
};

} // namespace lampo
