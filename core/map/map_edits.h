#pragma once

#include "map/musical_map.h"

namespace lampo {

/// The map with a tempo change at the start of `bar` that changes nothing yet: the tempo reached there, going on as
/// before; the same map where there is one already. `bar` > 1.
MapData withTempoAt(MapData map, SampleRate rate, int bar);

/// The changes of tempo and meter at `from` are at `to` instead; none there, or at bar 1, stay as they are. What
/// was at `to` gives way. `to` > 1.
MapData withChangeMoved(MapData map, int from, int to);

/// Without the changes at `bar` > 1.
MapData withoutChange(MapData map, int bar);

} // namespace lampo
