#pragma once

#include "map/map_data.h"
#include "midi/midi_file.h"

#include <optional>
#include <string>
#include <vector>

namespace lampo {

/// What a meter event says (FF 58 04 nn dd cc bb: nn beats of one 2^dd-th); none when a map cannot hold it.
std::optional<Meter> meterIn(const MidiEvent& event);

/// A name at a bar line.
struct Marker {
    int bar = 1;      ///< at whose line it stands
    std::string name; ///< not empty
    bool operator==(const Marker&) const = default;
};

/// A map from a MIDI file. Song time 0 is tick 0, which is bar 1 unless the file says otherwise.
struct ReadTempoMap {
    MapData map;                 ///< tempos and meters
    std::vector<Marker> markers; ///< FF 06, each at the bar line nearest to it, in order; of several the last
};

/// From the tempo and meter events of all tracks. A tempo that changes inside a bar does so in the map; a meter
/// that changes inside a bar cuts that bar short. Tempos are taken as microseconds for each quarter note, 24 bits
/// (Standard MIDI Files 1.0, FF 51 03 and FF 58 04). A text event "bar N" (FF 01) at a bar line says that this is
/// bar N. Errors: badValue (a meter or tempo that a map cannot hold), with `named` in the sentence.
Expected<ReadTempoMap> tempoMapOf(const MidiFile& file, SampleRate rate, const std::string& named);

/// The map as tempo and meter events up to `lastBar`. What lies before its first bar becomes a bar of its own, so
/// that tick 0 is song time 0; a text event then says which bar begins behind it. Ramps are written as a tempo for
/// each sixteenth; rounding to whole microseconds does not add up.
MidiFile tempoMapFile(const MapData& map, SampleRate rate, int lastBar);

} // namespace lampo
