#pragma once

#include "base/units.h"
#include "map/note_value.h"

#include <array>

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

/// How much each band of a guide counts when it is listened to for hits: below 150 Hz, 150 to 700 Hz, 700 Hz to
/// 3.5 kHz, and above. Amplitudes, 0.05 to 1.
using BandWeights = std::array<double, 4>;

/// Cuts that cannot matter are left out: only hits within `near` of a line of `value` count.
struct Finest {
    NoteValue value{1, 16};
    Milliseconds near{40}; ///< 1 to 500
    bool operator==(const Finest&) const = default;
};

struct ClusterSettings {
    /// Attacks of different guides this near are one hit. Sound crosses a kit in under 8 ms.
    Milliseconds window{15};
    bool operator==(const ClusterSettings&) const = default;
};

} // namespace lampo
