#pragma once

#include "base/error.h"
#include "session/session.h"

#include <filesystem>
#include <vector>

namespace lampo {

/// A kit kept for the next song of the same recording: order, drums, guides, groups and how each mic is listened
/// to, but nothing of playback (levels, mutes). Mics are told by name. Errors: unwritable, diskFull.
Expected<void> saveKitLayout(const Session& session, const std::filesystem::path& file);

/// What saveKitLayout wrote, to be given to ArrangeKit. Errors: notFound, unreadable, damagedProject.
Expected<std::vector<Mic>> loadKitLayout(const std::filesystem::path& file);

} // namespace lampo
