#pragma once

#include "base/error.h"

#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

namespace lampo {

/// One event of a Standard MIDI File (Standard MIDI Files 1.0), at a tick from the begin of its track.
struct MidiEvent {
    std::int64_t tick = 0; ///< from the begin of its track
    std::uint8_t status =
        0;                 ///< 0x80 to 0xEF with the channel; 0xFF for meta events; 0xF0 and 0xF7 system exclusive
    std::uint8_t type = 0; ///< of a meta event
    std::string data{};    ///< data bytes of a channel message, or the whole payload
    bool operator==(const MidiEvent&) const = default;

    /// Whether it is a meta event of this type.
    bool isMeta(std::uint8_t wanted) const { return status == 0xFF && type == wanted; }
};

namespace midi {
inline constexpr std::uint8_t endOfTrack = 0x2F;
inline constexpr std::uint8_t tempo = 0x51; ///< three bytes: microseconds for each quarter note
inline constexpr std::uint8_t meter =
    0x58; ///< beats, power of two of the unit, clocks for each click, 32nds in 24 clocks
inline constexpr std::uint8_t text = 0x01;
inline constexpr std::uint8_t trackName = 0x03;
inline constexpr std::uint8_t marker = 0x06;
} // namespace midi

/// Format 0 (one track) or 1 (all tracks at once), timed in notes.
struct MidiFile {
    int ticksPerQuarter = 960;                  ///< 1 to 32,767
    std::vector<std::vector<MidiEvent>> tracks; ///< each with its events in order
    bool operator==(const MidiFile&) const = default;
};

inline constexpr std::uintmax_t largestMidiFile = 16u << 20;

/// Parses a whole file as hostile input: every length is checked. Unknown chunks are passed over, as the standard
/// wants. Errors, with `named` in the sentence: badValue (no MIDI file, cut short, timed in film frames, format 2).
Expected<MidiFile> midiFromBytes(std::string_view bytes, const std::string& named);

/// The bytes of a file. Events of a track ascend; each track gets its end.
std::string midiBytes(const MidiFile& file);

} // namespace lampo
