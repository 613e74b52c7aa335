#pragma once

#include "base/error.h"

#include <cstdint>
#include <filesystem>

namespace lampo {

/// Tells one recording from another of the same length: a hash (XXH3, never 0) of a file's length, its begin, its
/// end and eight places between, so that a slow disk need not read it whole. Another take, mix or export differs; a
/// change of less than a ninth of the file may not. Errors: those of FileBytes::open.
Expected<std::uint64_t> fingerprintOf(const std::filesystem::path& file);

} // namespace lampo
