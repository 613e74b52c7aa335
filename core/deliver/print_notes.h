#pragma once

#include "audio/file_notes.h"
#include "deliver/print_settings.h"
#include "session/session.h"

namespace lampo {

/// What the files of a print say beside their samples: sections as named places, and where the print begins on the
/// recording's clock, by the Broadcast Wave file of the take that sounds first, or from the song's begin where
/// there is none. Frames of the rate that is printed.
FileNotes printNotes(const Session& session, const PrintSettings& settings);

} // namespace lampo
