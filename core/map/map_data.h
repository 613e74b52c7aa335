#pragma once

#include "base/limits.h"
#include "base/position.h"
#include "base/units.h"

#include <vector>

namespace lampo {

/// `beats` notes of 1/`unit` in a bar: 1 to 32 beats; unit 1, 2, 4, 8, 16 or 32.
struct Meter {
    int beats = 4; ///< limits::beats
    int unit = 4;  ///< a power of two, 1 to 32

    bool operator==(const Meter&) const = default;
    /// How long a bar is, in whole notes.
    double barInWholes() const { return static_cast<double>(beats) / unit; }
};

bool isMeter(Meter meter);

/// From the start of `bar` on. Bars count from 1; what lies before the origin has bars 0, −1 ….
struct MeterChange {
    int bar = 1; ///< from which on it rules
    Meter meter; ///< of that bar and those after it
    bool operator==(const MeterChange&) const = default;
};

/// A tempo from some place on.
struct TempoChange {
    int bar = 1;       ///< in which it begins
    Bpm bpm;           ///< limits::tempo
    bool ramp = false; ///< it goes evenly, note by note, to the next change's tempo
    double beat = 1;   ///< inside the bar, in its meter's unit: 1 <= beat < beats + 1
    bool operator==(const TempoChange&) const = default;
};

/// What the user says about the map. Both lists are sorted by place, never empty, and begin at bar 1, beat 1 (which
/// also rules the bars before it).
struct MapData {
    SongFrame origin;                               ///< where bar 1 beat 1 lies
    std::vector<MeterChange> meters{MeterChange{}}; ///< ascending by bar; the first is bar 1's
    std::vector<TempoChange> tempos{TempoChange{}}; ///< ascending by place; the first is bar 1's

    bool operator==(const MapData&) const = default;
};

inline constexpr Bpm slowestTempo{limits::tempo.low};
inline constexpr Bpm fastestTempo{limits::tempo.high};

} // namespace lampo
