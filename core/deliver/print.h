#pragma once

#include "base/progress.h"
#include "deliver/printed_files.h"
#include "seams/plan.h"

#include <memory>

namespace lampo {

/// Writes each mic of the kit as one continuous file, and what else is asked for. All files and
/// texts get their names together, at the very end (base/file_set.h): a print that fails, is stopped or is killed
/// leaves what was there before. Returns what is there now. Errors: those of printedFiles, diskFull (also before
/// anything is written, where there is no room for it), cancelled, those of AudioReader and AudioWriter, unwritable
/// (also when something else prints there).
Expected<PrintList> print(const Session& session, std::shared_ptr<const Plan> plan, const PrintSettings& settings,
                          const Progress& progress);

/// Writes one text alone. Errors: unwritable (also when it would be a file of the recording or a protected one),
/// diskFull.
Expected<void> writeText(const Session& session, const PrintedText& text, const ProtectedFiles& others);

} // namespace lampo
