#pragma once

#include "base/units.h"
#include "map/note_value.h"

namespace lampo {

/// How hits are brought to the grid, for what no section sets otherwise.
struct TimingSettings {
    NoteValue grid{1, 16};
    double strength = 100; ///< per cent, 0 to 100
    bool operator==(const TimingSettings&) const = default;
};

/// What becomes of a hole that opens where a slice moved away from the one before it.
enum class Fill {
    borrow, ///< the later slice starts earlier, with the earlier hit's own tail
    open,   ///< it stays a hole, for listening to the raw cuts
};

struct SeamSettings {
    Milliseconds leadIn{10}; ///< 0 to 50: kept before the earliest attack of a hit; common practice, no source
    Milliseconds fade{6};    ///< 1 to 50; common practice, no source
    Fill fill = Fill::borrow;
    bool operator==(const SeamSettings&) const = default;
};

struct ClusterSettings {
    /// Attacks of different guides this near are one hit. Sound crosses a kit in under 8 ms.
    Milliseconds window{15};
    bool operator==(const ClusterSettings&) const = default;
};

} // namespace lampo
