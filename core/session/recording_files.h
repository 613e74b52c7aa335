#pragma once

#include "base/protected_files.h"
#include "session/session.h"

namespace lampo {

/// Everything that the session listens to: its takes and companions. Nothing is ever written over these.
ProtectedFiles recordingFiles(const Session& session);

} // namespace lampo
