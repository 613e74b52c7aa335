#pragma once

#include "base/error.h"
#include "demo_kit/voices.h"
#include "session/drum_sample.h"

#include <filesystem>

namespace lampo::demo {

/// Single strokes of one of our drums as files in a folder, which is made: two that sound in turn for strokes up to
/// −12 dB, two for louder ones. Files that are there already stay. Errors: unwritable, diskFull.
Expected<std::vector<SampleLayer>> writeOneShots(Drum drum, const std::filesystem::path& folder);

} // namespace lampo::demo
