#pragma once

#include "base/error.h"

#include <filesystem>
#include <vector>

namespace lampo::cli {

/// The songs that a path of `batch` stands for: a project; a folder of mic files; a folder with one project; a
/// folder of such folders and projects, in the order of their names; or a list, a text file with such a path in
/// each line, relative to where it lies (empty lines and those that begin with # say nothing). Errors: notFound,
/// noAudio (nothing is there), those of readWhole.
Expected<std::vector<std::filesystem::path>> songsIn(const std::filesystem::path& path);

} // namespace lampo::cli
