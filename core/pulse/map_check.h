#pragma once

#include "map/musical_map.h"
#include "pulse/pulse_hit.h"

#include <span>
#include <string>
#include <vector>

namespace lampo {

/// How well the strong hits lie on the map.
struct MapFit {
    std::size_t strong = 0; ///< hits that were looked at: those on beats and halves of beats
    Milliseconds within;    ///< of them lie eight of ten of them
};

/// Something about the map that the hits speak against.
struct MapAdvice {
    /// What of the map seems wrong.
    enum class Kind { tempo, origin, bars };
    Kind kind = Kind::tempo; ///< what seems wrong
    std::string sentence;    ///< "The tempo seems to be 104.2 BPM, not 120"
    MapData map;             ///< what it would be
};

inline constexpr std::size_t fewestStrongHits = 16;

/// `hits` ascend. Pure; a few milliseconds for a song.
MapFit fitOf(const MusicalMap& map, std::span<const PulseHit> hits);

/// What should be changed first comes first; a wrong tempo hides all else. Nothing with fewer than
/// fewestStrongHits. The tempo is looked for up to a third slower or faster than the map's. `hits` ascend. Pure;
/// some tens of milliseconds for a song.
std::vector<MapAdvice> adviceOn(const MapData& map, SampleRate rate, std::span<const PulseHit> hits);

} // namespace lampo
