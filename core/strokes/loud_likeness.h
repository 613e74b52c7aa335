#pragma once

#include "strokes/mean_stroke.h"

#include <cstddef>
#include <optional>
#include <vector>

namespace lampo {

/// Strokes of one drum, and when they began.
struct DatedStrokes {
    std::vector<std::size_t> strokes{}; ///< among the mic's candidates
    std::vector<StrokeDate> dates{};    ///< of each
    /// For each, which of the means of strokes that sound alike it was dated by; none where it was dated by none.
    std::vector<std::optional<std::size_t>> kindOf{};
};

/// Moves soft strokes to where they are like the drum's loud ones. In a loud room the means of soft strokes begin
/// in the bleed before them, or behind a flank that is hidden; compared with loud ones, all whitened by what sounds
/// before the soft ones (as in onsets/familiar_strokes.h), each of them tells where it lies. But the loud ones may
/// fit a soft one a period of the shell beside nearly as well: those that are nearly as much like them where they
/// lie as anywhere stay. Kinds are moved as a whole, and single strokes that are beside their kind. Pure.
void beginWhereLikeLoud(const MicAnalysis& mic, const DatedStrokes& loud, DatedStrokes& soft, SampleRate rate);

} // namespace lampo
