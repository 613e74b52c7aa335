#pragma once

#include "map/musical_map.h"

#include <optional>
#include <string>
#include <string_view>

namespace lampo {

/// "12", "12.3" or "12.3.25": bar, beat and what follows of it, as far as they are there.
std::string placeText(BarBeat place);
/// Reads it. Whether the bar has such a beat is not looked at.
std::optional<BarBeat> barBeatIn(std::string_view text);

/// "12.3.250": bar 12, beat 3 and 250 thousandths of a beat.
std::string placeText(const MusicalMap& map, SongFrame place);

/// Reads what placeText() writes, also "12" and "12.3"; seconds as "31.25s"; and any of them with milliseconds more
/// or less: "12.3 +4.5ms", "12.3.500 -2 ms". None when it is nothing of this.
std::optional<SongFrame> placeIn(const MusicalMap& map, std::string_view text);

} // namespace lampo
