#pragma once

#include "onsets/candidate.h"
#include "session/session.h"

#include <span>
#include <vector>

namespace lampo {

/// Sound crosses a kit in under this; what arrives farther apart did not start together.
inline constexpr Milliseconds kitSize{12};

/// A mic whose file does not start with the others.
struct FalseStart {
    MicIndex mic;      ///< whose file begins elsewhere
    FrameCount late;   ///< its strokes lie this much behind the others' (before them when negative)
    double agreed = 0; ///< share of the strokes looked at that agree, 0 to 1

    bool operator==(const FalseStart&) const = default;
};

/// Compares when strong strokes arrive in the mics of a take: every mic hears every drum, and most of them agree.
/// Offsets of up to ten seconds are found. `analyses` has an entry per mic, null where it was not analysed.
/// Pure.
std::vector<FalseStart> falseStarts(const Session& session, std::span<const MicAnalysis* const> analyses);

} // namespace lampo
