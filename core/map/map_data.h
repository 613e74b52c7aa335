#pragma once

#include "base/limits.h"
#include "base/position.h"
#include "base/units.h"

#include <vector>

namespace lampo {

/// `beats` notes of 1/`unit` in a bar: 1 to 32 beats; unit 1, 2, 4, 8, 16 or 32.
struct Meter {
    int beats = 4;
    int unit = 4;

    bool operator==(const Meter&) const = default;
    double barInWholes() const { return static_cast<double>(beats) / unit; }
};

bool isMeter(Meter meter);

/// From the start of `bar` on. Bars count from 1; what lies before the origin has bars 0, −1 ….
struct MeterChange {
    int bar = 1;
    Meter meter;
    bool operator==(const MeterChange&) const = default;
};

struct TempoChange {
    int bar = 1;
    Bpm bpm;
    bool ramp = false; ///< it goes evenly, note by note, to the next change's tempo
    double beat = 1;   ///< inside the bar, in its meter's unit: 1 <= beat < beats + 1
    bool operator==(const TempoChange&) const = default;
};

/// What the user says about the map. Both lists are sorted by place, never empty, and begin at bar 1, beat 1 (which
/// also rules the bars before it).
struct MapData {
    SongFrame origin; ///< where bar 1 beat 1 lies
    std::vector<MeterChange> meters{MeterChange{}};
    std::vector<TempoChange> tempos{TempoChange{}};

    bool operator==(const MapData&) const = default;
};

inline constexpr Bpm slowestTempo{limits::tempo.low};
inline constexpr Bpm fastestTempo{limits::tempo.high};

} // namespace lampo
