#pragma once

#include "base/error.h"
#include "session/session.h"

#include <string>
#include <variant>

namespace lampo {

/// How fast the song is, where no change of tempo rules.
struct SetTempo {
    Bpm bpm; ///< limits::tempo
};
/// How bars are counted, where no change of meter rules.
struct SetMeter {
    Meter meter; ///< of the first bar on
};
/// Where bar 1 begins.
struct SetOrigin {
    SongFrame origin; ///< limits::barOne
};
/// Which lines hits land on.
struct SetGrid {
    NoteValue grid; ///< of the song
};
/// Which lines hits land on in a section.
struct SetSectionGrid {
    std::size_t section;           ///< index in Session::sections
    std::optional<NoteValue> grid; ///< none: those of the song
};
/// How much of the way to its line a hit moves.
struct SetStrength {
    double percent; ///< limits::strength
};

// Of a section where one is named, otherwise of the song. A section that is given nothing follows the song; the
// song that is given nothing goes back to what is usual.

/// How late every second line lies.
struct SetSwing {
    std::optional<std::size_t> section; ///< index in Session::sections; none: the song
    std::optional<double> percent;      ///< limits::swing, 50 is straight; none: the section follows the song
};
/// How near their lines hits stay where they were played.
struct SetPocket {
    std::optional<std::size_t> section; ///< index in Session::sections; none: the song
    std::optional<Milliseconds> pocket; ///< limits::pocket; none: the section follows the song
};
/// Where hits outside the pocket go.
struct SetPull {
    std::optional<std::size_t> section; ///< index in Session::sections; none: the song
    std::optional<Pull> pull;           ///< none: the section follows the song
};
/// How far from their lines hits still land.
struct SetReach {
    std::optional<std::size_t> section; ///< index in Session::sections; none: the song
    std::optional<Reach> reach;         ///< none: the section follows the song
};
/// Whether the hits of a drum land.
struct SetDrumTiming {
    std::optional<std::size_t> section; ///< index in Session::sections; none: the song
    Voice voice;                        ///< the drum
    DrumTiming drumTiming;              ///< what its hits do
};
/// All drums of a section as in the song.
struct FollowDrumTimings {
    std::size_t section; ///< index in Session::sections
};
/// The whole map; `what` is for the history. Borders stay on their lines.
struct SetMap {
    MapData map;      ///< all of it
    std::string what; ///< for the history: what was done
};
/// All sections: whole bars, not overlapping, in any order.
struct SetSections {
    std::vector<Section> sections; ///< all of them, sorted by comesBefore, not overlapping
    std::string what;              ///< for the history: what was done
};
/// How hits find their lines.
struct SetAssign {
    Assign assign; ///< for the whole song
};
/// How much of the way to its line a hit moves in a section.
struct SetSectionStrength {
    std::size_t section;           ///< index in Session::sections
    std::optional<double> percent; ///< limits::strength; none: as in the song
};

using TimingEdit =
    std::variant<SetTempo, SetMeter, SetOrigin, SetGrid, SetSectionGrid, SetStrength, SetSwing, SetPocket, SetPull,
                 SetReach, SetDrumTiming, FollowDrumTimings, SetMap, SetSections, SetAssign, SetSectionStrength>;

/// See edited() and describe() in edit.h.
Expected<void> apply(const TimingEdit& edit, Session& session);
std::string describe(const Session& session, const TimingEdit& edit);

} // namespace lampo
