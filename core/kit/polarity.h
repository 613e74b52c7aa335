#pragma once

#include "base/error.h"
#include "base/progress.h"
#include "onsets/candidate.h"
#include "session/session.h"

#include <span>
#include <vector>

namespace lampo {

/// Two mics of one drum, and how alike they move at its attacks.
struct PolarityPair {
    std::size_t first = 0;  ///< the higher in rank
    std::size_t second = 0; ///< the mic it is compared with
    double likeness = 0;    ///< mean of the strongest normalised correlation within ±1.5 ms, −1 to 1

    /// Whether one of the two is turned over: so unlike are two mics of one drum not by distance alone.
    bool opposite() const { return likeness < -0.35; }
    bool operator==(const PolarityPair&) const = default;
};

/// Looks at the strong strokes of every group of close mics (a snare from above and from below). Only told, never
/// changed: mics that face a drum from both sides are of opposite polarity by nature. Reads a few ms around each of
/// up to 40 strokes. Errors: those of AudioReader, cancelled.
Expected<std::vector<PolarityPair>> comparePolarity(const Session& session, const Take& take,
                                                    std::span<const MicAnalysis* const> analyses,
                                                    const Progress& progress);

} // namespace lampo
