#pragma once

#include "base/error.h"
#include "pipeline/analyses.h"

#include <filesystem>
#include <optional>

namespace lampo {

/// Candidates kept on disk beside the project, by the content of their file and by what was listened for. Losing
/// the folder costs a moment of analysis and nothing else.

/// "song.lampo" → "song.lampo-heard".
std::filesystem::path cacheFolderOf(const std::filesystem::path& project);

/// The file in `folder` that holds this key's candidates, or would. Reads the source once to know its content (at
/// memory speed; XXH3). None when it cannot be read.
std::optional<std::filesystem::path> cachedCandidates(const std::filesystem::path& folder, const AnalysisKey& key);

/// None when there is no such file, or when it is not whole: it is then simply made anew.
std::optional<MicAnalysis> readCandidates(const std::filesystem::path& file);
/// Makes the folder when it is not there. Errors: unwritable, diskFull.
Expected<void> writeCandidates(const std::filesystem::path& file, const MicAnalysis& analysis);

} // namespace lampo
