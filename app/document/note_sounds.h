#pragma once

#include "deliver/hits_midi.h"
#include "mix/note_sound.h"

namespace lampo {

/// The notes of all hits, played by drums that are made here: what a MIDI file of them would sound like.
std::shared_ptr<const NoteSounds> noteSoundsOf(const Session& session, const Outcome& outcome, MidiAs as);

} // namespace lampo
