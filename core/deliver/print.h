#pragma once

#include "audio/sample_format.h"
#include "base/error.h"
#include "base/progress.h"
#include "seams/plan.h"
#include "session/session.h"

#include <filesystem>
#include <memory>

namespace lampo {

struct PrintSettings {
    std::filesystem::path folder; ///< made when it is missing
    SampleFormat format = SampleFormat::wav24;
};

/// Writes each mic of the kit as one continuous file of the song's length, named after its source. All files get
/// their names together, at the very end: a print that fails or is stopped leaves what was there before.
/// Errors: unwritable (also when the folder holds a source of the session), diskFull, cancelled, those of
/// AudioReader.
Expected<void> print(const Session& session, std::shared_ptr<const Plan> plan, const PrintSettings& settings,
                     const Progress& progress);

} // namespace lampo
