#pragma once

#include "base/error.h"
#include "session/session.h"

#include <string>
#include <variant>
#include <vector>

namespace lampo {

/// Lays patches on top of those that are there.
struct AddPatches {
    std::vector<Patch> patches; ///< at least one
};
/// Puts another patch in the place of one.
struct ChangePatch {
    std::size_t index; ///< in Session::patches
    Patch patch;       ///< that lies there from then on
};
/// Takes patches away.
struct DeletePatches {
    std::vector<std::size_t> indices; ///< in Session::patches, at least one
};
/// Lets patches be heard or not.
struct SwitchPatches {
    std::vector<std::size_t> indices; ///< in Session::patches, at least one
    bool on;                          ///< whether they are heard
};

using PatchEdit = std::variant<AddPatches, ChangePatch, DeletePatches, SwitchPatches>;

/// See edited() and describe() in edit.h.
Expected<void> apply(const PatchEdit& edit, Session& session);
std::string describe(const Session& session, const PatchEdit& edit);

} // namespace lampo
