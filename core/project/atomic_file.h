#pragma once

#include "base/error.h"

#include <filesystem>
#include <string_view>

namespace lampo {

/// Writes `text` beside `file` and then gives it that name in one step: whoever reads sees the old file or the
/// whole new one, also after a crash. Errors: unwritable, diskFull.
Expected<void> writeAtomically(const std::filesystem::path& file, std::string_view text);

} // namespace lampo
