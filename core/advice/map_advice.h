#pragma once

#include "edits/edit.h"
#include "pipeline/outcome.h"
#include "pulse/map_check.h"

namespace lampo {

/// What helps with the map and with landing by hand. All of it speaks of the hits that sound.

/// The hits that sound, as they were played, ascending.
std::vector<PulseHit> pulseHits(const Outcome& outcome);

/// What the hits of the song say about its map.
struct MapReport {
    MapFit fit;                    ///< how well they fit
    std::vector<MapAdvice> advice; ///< what seems wrong, and what to do about it
};
MapReport checkMap(const Session& session, const Outcome& outcome);

/// The edit that lets the map follow the drummer; see pulse/followed_map.h. Errors: badValue.
Expected<Edit> followDrummerEdit(const Session& session, const Outcome& outcome, double smoothness);

/// By how much the hits [first, last] of the outcome should be shoved, beside what they are shoved already.
FrameCount suggestedShove(const Session& session, const Outcome& outcome, std::size_t first, std::size_t last);

/// The feel of the hits that were played in a range: how they lie against the lines of the grid that they mean, in
/// a bar of the range's first meter. Errors: badValue (no hit means a line there).
Expected<Feel> feelOfPassage(const Session& session, const Outcome& outcome, Range<SongFrame> range,
                             std::string name);

/// The same of a companion's attacks, each against the grid line nearest to it. Errors: badValue (it was not
/// analysed yet, or has no attacks).
Expected<Feel> feelOfCompanion(const Session& session, const Analyses& analyses, const std::string& companion,
                               std::string name);

} // namespace lampo
