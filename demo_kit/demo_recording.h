#pragma once

#include "base/error.h"
#include "demo_kit/score.h"
#include "session/session.h"

#include <filesystem>

namespace lampo::demo {

inline constexpr int demoRate = 48000;

/// The session of the demo as it is written: three takes in `folder`/A, B and C, the bass beside them, the map and
/// the sections of the score.
Session demoSession(const std::filesystem::path& folder);

/// Writes A, B, C (a 24 bit WAV per mic, and truth.json), companion and lighthouse_relay.lampo into `folder`, which
/// is made if it is missing. Takes a few seconds. Errors: unwritable, diskFull.
Expected<void> writeDemo(const std::filesystem::path& folder);

} // namespace lampo::demo
