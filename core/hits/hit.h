#pragma once

#include "base/position.h"
#include "base/units.h"
#include "session/role.h"

#include <cstdint>
#include <vector>

namespace lampo {

/// A set of mics by their index in the session; at most 64.
using MicSet = std::uint64_t;
inline constexpr std::size_t mostMics = 64;

constexpr MicSet onlyMic(std::size_t mic) {
    return MicSet{1} << mic;
}

/// A shared hit: one moment at which all mics are cut. first <= anchor <= last.
struct Hit {
    SourceFrame anchor;  ///< the attack of the highest-ranked guide that heard it: what lands on the grid
    SourceFrame first;   ///< the earliest attack of the cluster: the cut lies before it
    SourceFrame last;    ///< the latest
    std::size_t mic = 0; ///< the guide that gave the anchor
    MicSet heardBy = 0;  ///< all guides with an attack in the cluster
    Voice voice = Voice::other;
    Decibels level;     ///< of the anchor, relative to its mic's typical strong hit
    bool added = false; ///< by the user
    bool operator==(const Hit&) const = default;
};

/// What a threshold and the neighbours made of a candidate.
enum class Verdict { hit, below, bleed, tooNear };

struct JudgedCandidate {
    Verdict verdict = Verdict::hit;
    std::size_t bleedFrom = 0; ///< the guide whose drum explains it, when it is bleed
};

} // namespace lampo
