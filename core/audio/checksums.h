#pragma once

#include "base/error.h"

#include <filesystem>
#include <string>
#include <vector>

namespace lampo {

/// A file, and what it is called in a list.
struct SummedFile {
    std::filesystem::path file; ///< where it is now
    std::string called;         ///< relative to where the list will lie
};

/// The 128 bits of XXH3 of each whole file, in hexadecimal, and its name, a line each: what `xxh128sum --check`
/// reads. Errors: unreadable.
Expected<std::string> checksumList(const std::vector<SummedFile>& files);

} // namespace lampo
