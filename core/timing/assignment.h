#pragma once

#include "timing/target_lines.h"

#include <optional>
#include <span>
#include <vector>

namespace lampo {

/// A hit whose line is looked for, by its attack.
struct HitToAssign {
    SongFrame at;                      ///< as played, or shoved
    Decibels level{};                  ///< soft ones lie between lines more often
    std::optional<std::size_t> sent{}; ///< index of the line that it was sent to by hand
};

/// Which line a hit means.
struct Assignment {
    std::optional<std::size_t> line; ///< index into the lines; none for a hit that rides between its neighbours
    /// How much dearer the next best line would be, 0 (a coin's toss) to `surest`; less where the hits around fit
    /// these lines so badly that no drummer meant them, and where a long run of hits would go along to other lines.
    double confidence = 0;
};
inline constexpr double surest = 100;

/// One path through all hits at once (dynamic programming): lines strictly in the order of hits, deviations that
/// change little from hit to hit (the drummer's drift is followed), strong metrical places likelier than weak ones,
/// and hits between lines (a flam's grace stroke, a roll finer than the grid) left to ride. `hits` ascend. Those
/// that were sent to lines hold them, and the others keep to their side of them. Time: at most hits x 4 lines x 4
/// lines x 8 predecessors, and far less where few hits ride.
std::vector<Assignment> assignLines(std::span<const HitToAssign> hits, std::span<const TargetLine> lines,
                                    SampleRate rate);

/// Each hit on the line that is nearest to it, whatever its neighbours do: for comparison. Several hits may mean
/// one line. Confidence as above: 0 half-way between two lines.
std::vector<Assignment> nearestLines(std::span<const HitToAssign> hits, std::span<const TargetLine> lines);

} // namespace lampo
