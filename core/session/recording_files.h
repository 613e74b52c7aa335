#pragma once

#include "base/kept_files.h"
#include "session/session.h"

namespace lampo {

/// Everything that the session listens to: its takes and companions. Nothing is ever written over these.
KeptFiles recordingFiles(const Session& session);

} // namespace lampo
