#pragma once

#include "map/grid.h"

#include <optional>
#include <span>
#include <vector>

namespace lampo {

/// Which line a hit means.
struct Assignment {
    std::optional<std::size_t> line; ///< index into the lines; none for a hit that rides between its neighbours
    double confidence = 0;           ///< how much dearer the next best line would be, 0 (a coin's toss) upwards
};

/// One path through all hits at once (dynamic programming): lines strictly in the order of hits, deviations that
/// change little from hit to hit (the drummer's drift is followed), strong metrical places likelier than weak ones,
/// and hits between lines (a flam's grace stroke, a roll finer than the grid) left to ride. `hits` ascend.
/// Time: at most hits x 4 lines x 4 lines x 8 predecessors, and far less where few hits ride.
std::vector<Assignment> assignLines(std::span<const SongFrame> hits, std::span<const GridLine> lines,
                                    SampleRate rate);

/// Each hit on the line that is nearest to it, whatever its neighbours do: for comparison. Several hits may mean one
/// line. Confidence as above: 0 half-way between two lines.
std::vector<Assignment> nearestLines(std::span<const SongFrame> hits, std::span<const GridLine> lines);

} // namespace lampo
