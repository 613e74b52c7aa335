#pragma once

#include "session/session.h"

#include <string>
#include <vector>

namespace lampo {

/// One thing in which two sessions differ.
struct Difference {
    std::string words;                     ///< what it is in the later one, against the earlier
    std::vector<Range<SongFrame>> where{}; ///< in the song; empty: everywhere or nowhere in particular
};

/// What differs between two states of one song, for people: takes by bars, map, sections, settings, corrections.
/// Kept versions are not compared. Empty when there is nothing.
std::vector<Difference> differencesOf(const Session& earlier, const Session& later);

} // namespace lampo
