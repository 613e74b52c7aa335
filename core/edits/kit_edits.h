#pragma once

#include "base/error.h"
#include "session/session.h"

#include <variant>

namespace lampo {

/// Whether hits are found in a mic.
struct SetGuide {
    MicIndex mic; ///< the mic
    bool guide;   ///< true: it guides
};
/// What a mic is called.
struct SetLabel {
    MicIndex mic;      ///< the mic
    std::string label; ///< empty: its stem
};
/// Which mics belong together.
struct SetGroup {
    MicIndex mic;      ///< the mic
    std::string group; ///< empty: it stands alone
    bool linked;       ///< whether level, mute and solo are set on all linked ones
};
/// Puts files of one take to other places in it: one offset for each mic, none where it stays.
struct SetOffsets {
    TakeIndex take;                                 ///< the take
    std::vector<std::optional<FrameCount>> offsets; ///< per mic, where its file begins in the take; none: as it is
};
/// Order, drums, guides, names, groups and detection settings for mics of the same names; others stay behind them.
struct ArrangeKit {
    std::vector<Mic> mics; ///< as they shall be; known by their stems, in this order
};
/// Which drum a mic stands at.
struct SetRole {
    MicIndex mic; ///< the mic
    Role role;    ///< its drum
};
/// Gives a mic another rank.
struct MoveMic {
    MicIndex from; ///< its rank now
    MicIndex to;   ///< its rank then
};
/// How loud a mic is in playback.
struct SetMicLevel {
    MicIndex mic;   ///< the mic, and all that are linked with it
    Decibels level; ///< limits::level
};
/// Whether a mic is silent in playback.
struct SetMute {
    MicIndex mic; ///< the mic, and all that are linked with it
    bool mute;    ///< true: it is silent
};
/// Whether only this mic, and others set so, are heard.
struct SetSolo {
    MicIndex mic; ///< the mic, and all that are linked with it
    bool solo;    ///< true: it is heard alone
};
/// Whether a companion is silent in playback.
struct MuteCompanion {
    std::size_t companion; ///< index in Session::companions
    bool mute;             ///< true: it is silent
};

using KitEdit = std::variant<SetGuide, SetLabel, SetGroup, SetOffsets, ArrangeKit, SetRole, MoveMic, SetMicLevel,
                             SetMute, SetSolo, MuteCompanion>;

/// See edited() and describe() in edit.h.
Expected<void> apply(const KitEdit& edit, Session& session);
std::string describe(const Session& session, const KitEdit& edit);

} // namespace lampo
