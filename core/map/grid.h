#pragma once

#include "map/musical_map.h"
#include "map/note_value.h"

#include <functional>
#include <vector>

namespace lampo {

/// How strong a place in the bar is; a drummer means strong places more often than weak ones.
enum class LineWeight { bar, beat, half, fine };

/// A place where hits may land.
struct GridLine {
    SongFrame frame;                     ///< where it lies in the song
    BarBeat place;                       ///< the same in bars and beats
    LineWeight weight = LineWeight::bar; ///< how strong the place is
    FrameCount step;                     ///< the grid step there
};

/// What rules a stretch of bars or beats.
struct GridRule {
    NoteValue value; ///< from line to line, when it is straight
    double swing =
        50; ///< per cent of two steps at which the second begins, 50 to 75; only of 1/8 and finer, undivided
    /// Straight, when no swing is given.
    GridRule(NoteValue plain, double swung = 50) : value(plain), swing(swung) {}
    bool operator==(const GridRule&) const = default;
};

/// All lines inside `range`, in order. `gridOf(bar, beat)` says what rules a beat (of the meter, from 1); lines
/// start anew at every bar line and where the rule changes inside a bar, so a 7/8 bar on a quarter grid has lines
/// at 0, 2, 4 and 6 eighths.
std::vector<GridLine> gridLines(const MusicalMap& map, Range<SongFrame> range,
                                const std::function<GridRule(int bar, int beat)>& gridOf);

} // namespace lampo
