#pragma once

#include "base/error.h"
#include "session/session.h"

#include <variant>

namespace lampo {

struct SetGuide {
    std::size_t mic;
    bool guide;
};
struct SetLabel {
    std::size_t mic;
    std::string label;
};
struct SetGroup {
    std::size_t mic;
    std::string group;
    bool linked;
};
/// Puts files of one take to other places in it: one offset for each mic, none where it stays.
struct SetOffsets {
    std::size_t take;
    std::vector<std::optional<FrameCount>> offsets;
};
/// Order, drums, guides, names, groups and detection settings for mics of the same names; others stay behind them.
struct ArrangeKit {
    std::vector<Mic> mics;
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

using KitEdit = std::variant<SetGuide, SetLabel, SetGroup, SetOffsets, ArrangeKit, SetRole, MoveMic, SetMicLevel,
                             SetMute, SetSolo, MuteCompanion>;

/// See edited() and describe() in edit.h.
Expected<void> apply(const KitEdit& edit, Session& session);
std::string describe(const Session& session, const KitEdit& edit);

} // namespace lampo
