#pragma once

#include "base/error.h"
#include "session/session.h"

#include <cstdint>
#include <filesystem>
#include <vector>

namespace lampo {

/// A project file as it was before it was saved over.
struct EarlierSave {
    std::filesystem::path file; ///< that holds it
    std::int64_t at = 0;        ///< when it was saved over, ms since 1970
};

/// Copies what is saved over into `folder`, of which it keeps the newest `most`. Nothing to keep is no error.
/// Errors: unwritable, diskFull.
Expected<void> keepEarlierSave(const std::filesystem::path& project, const std::filesystem::path& folder,
                               std::size_t most = 20);
/// The newest first.
std::vector<EarlierSave> earlierSaves(const std::filesystem::path& folder);
/// Its files are found from where the project lies. Errors: those of loadProject.
Expected<Session> loadEarlierSave(const EarlierSave& save, const std::filesystem::path& project);

} // namespace lampo
