#pragma once

#include "base/error.h"

#include <filesystem>
#include <string>
#include <vector>

namespace lampo {

/// Files that nothing may be written over, and what each of them is. Told by what they are (device and inode), so
/// through any link, mount or spelling.
class ProtectedFiles {
public:
    /// `what` completes "… is": "a file of the recording (take A)". A file that is not there is protected by its
    /// path.
    void add(const std::filesystem::path& file, std::string what);
    /// Errors: unwritable, naming the file and what it is.
    Expected<void> mayWrite(const std::filesystem::path& target) const;

private:
    struct Protected {
        std::filesystem::path file;
        std::string what;
    };
    std::vector<Protected> files_;
};

} // namespace lampo
