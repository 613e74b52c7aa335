#pragma once

#include "base/error.h"
#include "session/session.h"

#include <cstdint>
#include <filesystem>

namespace lampo {

/// Bytes.
inline constexpr std::uintmax_t largestProject = 256U << 20;

/// By its ending, in any case.
bool isProject(const std::filesystem::path& file);

/// Errors: unwritable (also for a file of the recording), diskFull; the old file survives both.
Expected<void> saveProject(const Session& session, const std::filesystem::path& file);
/// Does not look at the audio files. Errors: notFound, unreadable, damagedProject.
Expected<Session> loadProject(const std::filesystem::path& file);

/// A project file or a folder of one take, whichever `input` is; the first unfit source is the error.
Expected<Session> openInput(const std::filesystem::path& input);

} // namespace lampo
