#pragma once

#include "base/error.h"
#include "session/session.h"

#include <string>
#include <variant>

namespace lampo {

struct SetTempo {
    Bpm bpm;
};
struct SetMeter {
    Meter meter;
};
struct SetOrigin {
    SongFrame origin;
};
struct SetGrid {
    NoteValue grid;
};
struct SetSectionGrid {
    std::size_t section;
    std::optional<NoteValue> grid;
};
struct SetStrength {
    double percent;
};
struct SetLeadIn {
    Milliseconds time;
};
struct SetFade {
    Milliseconds time;
};
struct SetFill {
    Fill fill;
};
struct SetGuide {
    std::size_t mic;
    bool guide;
};
struct SetThreshold {
    std::size_t mic;
    Decibels level;
};
struct SetShortestGap {
    std::size_t mic;
    Milliseconds gap;
};
struct SetRole {
    std::size_t mic;
    Role role;
};
struct MoveMic {
    std::size_t from;
    std::size_t to;
};
struct SetMicLevel {
    std::size_t mic;
    Decibels level;
};
struct SetMute {
    std::size_t mic;
    bool mute;
};
struct SetSolo {
    std::size_t mic;
    bool solo;
};
struct MuteCompanion {
    std::size_t companion;
    bool mute;
};
struct ChooseTake {
    std::size_t take;
};
/// Replaces whatever was said before about the same place.
struct Correct {
    Correction correction;
};
struct DropCorrection {
    char take;
    SourceFrame at;
};

using Edit = std::variant<SetTempo, SetMeter, SetOrigin, SetGrid, SetSectionGrid, SetStrength, SetLeadIn, SetFade,
                          SetFill, SetGuide, SetThreshold, SetShortestGap, SetRole, MoveMic, SetMicLevel, SetMute,
                          SetSolo, MuteCompanion, ChooseTake, Correct, DropCorrection>;

/// The session after the edit; the one given is not touched. Errors: badValue (a value out of its range, an index
/// that does not exist), with a sentence that names the range.
Expected<Session> edited(const Session& session, const Edit& edit);

/// For menus and the history: "Strength 80 %", "Threshold of snare_top −24 dB".
std::string describe(const Session& session, const Edit& edit);

} // namespace lampo
