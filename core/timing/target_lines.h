#pragma once

#include "map/grid.h"
#include "session/session.h"

#include <span>

namespace lampo {

/// A line that hits can mean: that of the grid, bent by the feel in use or drawn to a companion's attack.
struct TargetLine : GridLine {
    FrameCount bent{}; ///< how far `frame` lies behind the grid's own line
};

/// All lines inside `range` (a little beyond where feel bends them there), in order, never two at one place.
/// `attacks`: of the companion to land on, ascending; see CompanionLines. Pure.
std::vector<TargetLine> targetLines(const Session& session, const MusicalMap& map, Range<SongFrame> range,
                                    std::span<const SongFrame> attacks);

/// Index of the line nearest to a place, the earlier of two; `lines` is not empty.
std::size_t nearestLine(SongFrame place, std::span<const TargetLine> lines);

} // namespace lampo
