#pragma once

#include "base/error.h"
#include "base/progress.h"
#include "session/session.h"

#include <filesystem>

namespace lampo {

/// Where a gathered project lies, and what its parts are called.
inline constexpr const char* gatheredRecording = "Recording"; ///< a folder for each take in it
inline constexpr const char* gatheredBeside = "Beside the kit";
inline constexpr const char* gatheredSamples = "Samples";
inline constexpr const char* gatheredSums = "checksums.txt";

/// Everything that a project needs in one folder that can be moved, zipped and opened anywhere: the project, a copy
/// of every file of its takes and companions, and their checksums (`xxh128sum --check checksums.txt`). The folder
/// is made, or must be empty. Returns the project's file; the session that was given stays where its files are.
/// Each copy is compared with what was read. Errors: unwritable (also a folder that holds something), diskFull,
/// notFound or unreadable (a file of the recording; nothing is left behind), cancelled.
Expected<std::filesystem::path> gather(const Session& session, const std::filesystem::path& folder,
                                       const Progress& progress);

} // namespace lampo
