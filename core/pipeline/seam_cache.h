#pragma once

#include "base/error.h"
#include "seams/seam_answers.h"

#include <filesystem>
#include <string_view>

namespace lampo {

/// Where seams sound best, kept beside the candidates (see candidate_cache.h). An answer bears the content of its
/// takes in its key, so that one that fits no question is never asked for.

/// The answers in a cache folder; none where there is no such file, or when it is not whole: they are then found
/// anew.
SeamAnswers readSeams(const std::filesystem::path& folder);
/// The same from the file's bytes.
SeamAnswers seamsIn(std::string_view bytes);
/// Makes the folder when it is not there. Of more than 100,000 answers any 100,000 are kept. Errors: unwritable,
/// diskFull.
Expected<void> writeSeams(const std::filesystem::path& folder, const SeamAnswers& answers);

} // namespace lampo
