#pragma once

#include "audio/sample_format.h"
#include "base/error.h"
#include "base/progress.h"
#include "render/click.h"
#include "session/session.h"

#include <filesystem>

namespace lampo {

/// Writes the click of the whole song as one mono file, for the drummer and the others. The file appears under its
/// name when it is complete. Errors: unwritable (also for a source of the session), those of AudioWriter,
/// cancelled.
Expected<void> writeClick(const Session& session, const ClickSettings& settings, const std::filesystem::path& file,
                          SampleFormat format, const Progress& progress);

} // namespace lampo
