#pragma once

#include "base/error.h"
#include "session/session.h"

#include <string>
#include <variant>
#include <vector>

namespace lampo {

/// Lays patches on top of those that are there; one that says the same thing of the same place and mics takes the
/// place of what said so before.
struct AddPatches {
    std::vector<Patch> patches; ///< at least one
};
/// Puts other patches in the place of some.
struct ChangePatches {
    std::vector<std::pair<std::size_t, Patch>> changed; ///< index in Session::patches, and what lies there then
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

using PatchEdit = std::variant<AddPatches, ChangePatches, DeletePatches, SwitchPatches>;

/// See edited() and describe() in edit.h.
Expected<void> apply(const PatchEdit& edit, Session& session);
std::string describe(const Session& session, const PatchEdit& edit);

} // namespace lampo
