#pragma once

#include "map/musical_map.h"
#include "map/note_value.h"

#include <functional>
#include <vector>

namespace lampo {

/// How strong a place in the bar is; a drummer means strong places more often than weak ones.
enum class LineWeight { bar, beat, half, fine };

struct GridLine {
    SongFrame frame;
    BarBeat place;
    LineWeight weight = LineWeight::bar;
    FrameCount step; ///< the grid step of its bar
};

/// All lines inside `range`, in order. `gridOf(bar)` says which note value rules a bar; lines start anew at every
/// bar line, so a 7/8 bar on a quarter grid has lines at 0, 2, 4 and 6 eighths.
std::vector<GridLine> gridLines(const MusicalMap& map, Range<SongFrame> range,
                                const std::function<NoteValue(int bar)>& gridOf);

} // namespace lampo
