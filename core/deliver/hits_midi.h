#pragma once

#include "base/enum_names.h"
#include "midi/midi_file.h"
#include "pipeline/outcome.h"

#include <string>
#include <vector>

namespace lampo {

/// Where the notes lie.
enum class MidiAs { played, landed };
inline constexpr EnumNames<MidiAs, MidiAs::landed> midiAsNames{"played", "landed"};

/// 1 to 127.
int velocityOf(const VelocityCurve& curve, Decibels level);

/// The key of the drum that a mic stands at in General MIDI's percussion map (General MIDI System Level 1): kick
/// 36, snare 38, closed hat 42, crash 49, toms from 50 down, floor toms 43 and 41; of what is none of them the side
/// stick's 37.
int usualKey(const Session& session, MicIndex mic);
/// The same for a drum that no mic stands at.
int usualKey(Voice voice);

/// What the track of a mic's drum is called: mics of one drum are one.
std::string midiDrumOf(const Session& session, MicIndex mic);

/// One stroke as a note.
struct DrumNote {
    std::string drum; ///< what its track is called
    ResultFrame at;   ///< where it sounds
    int key = 0;      ///< 0 to 127
    int velocity = 0; ///< 1 to 127
    bool operator==(const DrumNote&) const = default;
};

/// A note for each drum of each hit that sounds, in order of time: strokes of one hit keep their distances. Cuts
/// without an attack are none.
std::vector<DrumNote> notesOf(const Session& session, const Outcome& outcome, const MidiSettings& settings,
                              MidiAs as);

/// The notes as a file of format 1: the map first, then a track for each drum, on channel 10.
MidiFile hitsMidi(const Session& session, const Outcome& outcome, const MidiSettings& settings, MidiAs as);

} // namespace lampo
