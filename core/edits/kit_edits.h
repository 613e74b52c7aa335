#pragma once

#include "base/error.h"
#include "session/session.h"

#include <variant>

namespace lampo {

struct SetGuide {
    MicIndex mic;
    bool guide;
};
struct SetLabel {
    MicIndex mic;
    std::string label;
};
struct SetGroup {
    MicIndex mic;
    std::string group;
    bool linked;
};
/// Puts files of one take to other places in it: one offset for each mic, none where it stays.
struct SetOffsets {
    TakeIndex take;
    std::vector<std::optional<FrameCount>> offsets;
};
/// Order, drums, guides, names, groups and detection settings for mics of the same names; others stay behind them.
struct ArrangeKit {
    std::vector<Mic> mics;
};
struct SetRole {
    MicIndex mic;
    Role role;
};
struct MoveMic {
    MicIndex from;
    MicIndex to;
};
struct SetMicLevel {
    MicIndex mic;
    Decibels level;
};
struct SetMute {
    MicIndex mic;
    bool mute;
};
struct SetSolo {
    MicIndex mic;
    bool solo;
};
struct MuteCompanion {
    std::size_t companion;
    bool mute;
};

using KitEdit = std::variant<SetGuide, SetLabel, SetGroup, SetOffsets, ArrangeKit, SetRole, MoveMic, SetMicLevel,
                             SetMute, SetSolo, MuteCompanion>;

/// See edited() and describe() in edit.h.
Expected<void> apply(const KitEdit& edit, Session& session);
std::string describe(const Session& session, const KitEdit& edit);

} // namespace lampo
