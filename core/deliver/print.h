#pragma once

#include "audio/sample_format.h"
#include "base/error.h"
#include "base/progress.h"
#include "base/protected_files.h"
#include "seams/plan.h"
#include "session/session.h"

#include <filesystem>
#include <memory>
#include <string>
#include <vector>

namespace lampo {

/// A text that goes with a print: its report.
struct PrintedText {
    std::filesystem::path file; ///< where it is written
    std::string text;           ///< all of it
};

/// What is printed beside the sound, and how.
struct PrintSettings {
    std::filesystem::path folder;              ///< made when it is missing
    SampleFormat format = SampleFormat::wav24; ///< of every printed file
    std::vector<PrintedText> texts{};          ///< anywhere
    ProtectedFiles protectedFiles{}; ///< besides the recording, what must not be written over: the project
};

/// Writes each mic of the kit as one continuous file of the song's length, named after its source. All files and
/// texts get their names together, at the very end (base/file_set.h): a print that fails, is stopped or is killed
/// leaves what was there before. Errors: unwritable (also when the folder holds a source of the session, a file is
/// protected, or something else prints there), diskFull, cancelled, those of AudioReader.
Expected<void> print(const Session& session, std::shared_ptr<const Plan> plan, const PrintSettings& settings,
                     const Progress& progress);

/// Writes one text alone. Errors: unwritable (also when it would be a file of the recording or a protected one),
/// diskFull.
Expected<void> writeText(const Session& session, const PrintedText& text, const ProtectedFiles& others);

} // namespace lampo
