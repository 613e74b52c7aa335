#pragma once

#include "base/error.h"
#include "session/session.h"

#include <optional>
#include <string>
#include <variant>

namespace lampo {

/// Kept by its name; one of the same name gives way.
struct KeepFeel {
    Feel feel; ///< replaces one of the same name
};
/// A feel gets another name, everywhere it is used.
struct RenameFeel {
    std::string from; ///< its name now
    std::string to;   ///< not empty, not another feel's
};
/// Where it was in use, the song is straight again, and sections follow the song.
struct DeleteFeel {
    std::string name; ///< the feel's
};
/// In a section, or in the song. None: the section follows the song; the song is straight.
struct UseFeel {
    std::optional<std::size_t> section; ///< index in Session::sections; none: the song
    std::optional<FeelUse> use;         ///< none: the section follows the song
};
/// None: the grid alone.
struct FollowCompanion {
    std::optional<CompanionLines> lines; ///< none: hits land on the grid alone
};

using FeelEdit = std::variant<KeepFeel, RenameFeel, DeleteFeel, UseFeel, FollowCompanion>;

/// See edited() and describe() in edit.h.
Expected<void> apply(const FeelEdit& edit, Session& session);
std::string describe(const Session& session, const FeelEdit& edit);

} // namespace lampo
