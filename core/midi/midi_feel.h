#pragma once

#include "map/feel.h"
#include "midi/midi_file.h"

namespace lampo {

/// The feel of all notes of a file against sixteenths of its own ticks (each note means the nearest), in the bar of
/// the meter at its begin. Levels are those of velocities against the loudest tenth, as amplitudes. Errors, with
/// `named` in the sentence: badValue (no notes).
Expected<Feel> feelOfMidi(const MidiFile& file, std::string name, const std::string& named);

} // namespace lampo
