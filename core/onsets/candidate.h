#pragma once

#include "base/position.h"
#include "base/units.h"

#include <vector>

namespace lampo {

/// A possible onset of one mic.
struct Candidate {
    SourceFrame at; ///< the first frame of the attack
    Decibels level; ///< relative to the mic's typical strong hit, in the mic's weighted bands
    Decibels rise;  ///< how far the weighted bands rose above what sounded before
    bool operator==(const Candidate&) const = default;
};

/// All there is to know about one mic of one take; thresholds only choose among it.
struct MicAnalysis {
    std::vector<Candidate> candidates; ///< in order of time
    Decibels strong{-200};             ///< the typical strong hit, dBFS in the weighted bands; −200 when silent
};

} // namespace lampo
