#pragma once

#include "map/map_data.h"
#include "midi/midi_file.h"

namespace lampo {

/// A map from a MIDI file. Song time 0 is tick 0, which is bar 1.
struct ReadTempoMap {
    MapData map;
    int averaged = 0; ///< bars whose tempo changes inside; they got the one tempo that takes as long
};

/// From the tempo and meter events of all tracks. A meter that changes inside a bar cuts that bar short. Tempos are
/// taken as microseconds for each quarter note, 24 bits (Standard MIDI Files 1.0, FF 51 03 and FF 58 04). Errors:
/// badValue (a meter or tempo that a map cannot hold), with `named` in the sentence.
Expected<ReadTempoMap> tempoMapOf(const MidiFile& file, const std::string& named);

/// A name at a bar line.
struct Marker {
    int bar = 1;
    std::string name;
    bool operator==(const Marker&) const = default;
};

/// The marker events of all tracks (FF 06), each at the bar line nearest to it, in order; of several at one line
/// the last. `map` is that of the same file.
std::vector<Marker> markersOf(const MidiFile& file, const MapData& map);

/// The map as tempo and meter events up to `lastBar`. What lies before bar 1 becomes a bar of its own, so that tick
/// 0 is song time 0. Ramps are written as a tempo for each sixteenth; rounding to whole microseconds does not add
/// up.
MidiFile tempoMapFile(const MapData& map, SampleRate rate, int lastBar);

} // namespace lampo
