#pragma once

#include "base/error.h"
#include "base/limits.h"
#include "session/session.h"

namespace lampo {

/// Whether a session is one that Lampo could have made: names, numbers and sizes. Every reader asks, and every
/// edit. Errors: badValue, saying what.
Expected<void> validate(const Session& session);

} // namespace lampo
