#pragma once

#include "base/error.h"

#include <filesystem>
#include <string>
#include <utility>
#include <vector>

namespace lampo {

/// The files of one take, before anything is known about them.
struct TakeFiles {
    std::string name; ///< of the take: its folder's, or what the file names say
    std::vector<std::pair<std::filesystem::path, std::string>> files; ///< with the mic's stem

    /// Whether all of them go by names of what stands beside the kit.
    bool standsBeside() const;
};

/// The audio files of folders (each one take; or one whose file names carry mic and take; or one of folders, each a
/// take) and single files, sorted. Files of audio that Lampo does not read are among them, and links to nothing.
/// Errors: notFound, unreadable, noAudio.
Expected<std::vector<TakeFiles>> takeFilesOf(const std::vector<std::filesystem::path>& inputs);

/// The name of a folder, also of one that is written with a slash behind it.
std::string nameOfFolder(const std::filesystem::path& folder);

/// Whether its ending is that of a kind of audio that Lampo reads, or of one that it does not.
bool isReadAudioKind(const std::filesystem::path& file);
bool isOtherAudioKind(const std::filesystem::path& file);

} // namespace lampo
