#pragma once

#include "base/error.h"

#include <cstdint>
#include <filesystem>
#include <string>
#include <string_view>

namespace lampo {

/// Writes `text` beside `file` and then gives it that name in one step: whoever reads sees the old file or the
/// whole new one, also after a crash. Errors: unwritable, diskFull.
Expected<void> writeAtomically(const std::filesystem::path& file, std::string_view text);

/// All of a file of at most `largest` bytes. `what` it should be, without an article ("project"), is for the
/// sentence. Errors: notFound, unreadable, tooLarge.
Expected<std::string> readWhole(const std::filesystem::path& file, std::uintmax_t largest, std::string_view what);

} // namespace lampo
