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

// Of a section where one is named, otherwise of the song. A section that is given nothing follows the song; the
// song that is given nothing goes back to what is usual.

struct SetSwing {
    std::optional<std::size_t> section;
    std::optional<double> percent;
};
struct SetPocket {
    std::optional<std::size_t> section;
    std::optional<Milliseconds> pocket;
};
struct SetPull {
    std::optional<std::size_t> section;
    std::optional<Pull> pull;
};
struct SetReach {
    std::optional<std::size_t> section;
    std::optional<Reach> reach;
};
struct SetDrumTiming {
    std::optional<std::size_t> section;
    Voice voice;
    DrumTiming drumTiming;
};
/// All drums of a section as in the song.
struct FollowDrumTimings {
    std::size_t section;
};
/// The whole map; `what` is for the history. Borders stay on their lines.
struct SetMap {
    MapData map;
    std::string what;
};
/// All sections: whole bars, not overlapping, in any order.
struct SetSections {
    std::vector<Section> sections;
    std::string what;
};
struct SetAssign {
    Assign assign;
};
struct SetSectionStrength {
    std::size_t section;
    std::optional<double> percent;
};

using TimingEdit =
    std::variant<SetTempo, SetMeter, SetOrigin, SetGrid, SetSectionGrid, SetStrength, SetSwing, SetPocket, SetPull,
                 SetReach, SetDrumTiming, FollowDrumTimings, SetMap, SetSections, SetAssign, SetSectionStrength>;

/// See edited() and describe() in edit.h.
Expected<void> apply(const TimingEdit& edit, Session& session);
std::string describe(const Session& session, const TimingEdit& edit);

} // namespace lampo
