#pragma once

#include "map/musical_map.h"

namespace lampo {

/// The change stands at the start of `bar`.
inline void putAtBarLine(MeterChange& change, int bar) {
    change.bar = bar;
}
inline void putAtBarLine(TempoChange& change, int bar) {
    change.bar = bar;
    change.beat = 1;
}

/// The map with a tempo change at the start of `bar` that changes nothing yet: the tempo reached there, going on as
/// before; the same map where there is one already. `bar` > 1.
MapData withTempoAt(MapData map, SampleRate rate, int bar);

/// The changes of tempo and meter at `from` are at bar line `to` instead; none there, or at bar 1 beat 1, stay as
/// they are. What was at `to` gives way. `to` > 1.
MapData withChangeMoved(MapData map, BarBeat from, int to);

/// Without the changes at a place behind the first.
MapData withoutChange(MapData map, BarBeat place);

} // namespace lampo
