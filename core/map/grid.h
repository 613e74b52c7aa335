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

/// What rules a bar.
struct GridRule {
    NoteValue value;
    double swing = 50; ///< per cent of two steps at which the second begins, 50 to 75; only of 1/8 and finer, undivided
    GridRule(NoteValue plain, double swung = 50) : value(plain), swing(swung) {}
};

/// All lines inside `range`, in order. `gridOf(bar)` says what rules a bar; lines start anew at every bar line, so a
/// 7/8 bar on a quarter grid has lines at 0, 2, 4 and 6 eighths.
std::vector<GridLine> gridLines(const MusicalMap& map, Range<SongFrame> range,
                                const std::function<GridRule(int bar)>& gridOf);

} // namespace lampo
