#pragma once

#include "base/error.h"
#include "session/session.h"

#include <optional>
#include <string>
#include <variant>

namespace lampo {

/// Kept by its name; one of the same name gives way.
struct KeepFeel {
    Feel feel;
};
struct RenameFeel {
    std::string from;
    std::string to;
};
/// Where it was in use, the song is straight again, and sections follow the song.
struct DeleteFeel {
    std::string name;
};
/// In a section, or in the song. None: the section follows the song; the song is straight.
struct UseFeel {
    std::optional<std::size_t> section;
    std::optional<FeelUse> use;
};
/// None: the grid alone.
struct FollowCompanion {
    std::optional<CompanionLines> lines;
};

using FeelEdit = std::variant<KeepFeel, RenameFeel, DeleteFeel, UseFeel, FollowCompanion>;

/// See edited() and describe() in edit.h.
Expected<void> apply(const FeelEdit& edit, Session& session);
std::string describe(const Session& session, const FeelEdit& edit);

} // namespace lampo
