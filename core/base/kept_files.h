#pragma once

#include "base/error.h"

#include <filesystem>
#include <string>
#include <vector>

namespace lampo {

/// Files that nothing may be written over, and what each of them is. Told by what they are (device and inode), so
/// through any link, mount or spelling.
class KeptFiles {
public:
    /// `what` completes "… is": "a file of the recording (take A)". A file that is not there is kept by its path.
    void add(const std::filesystem::path& file, std::string what);
    /// Errors: unwritable, naming the file and what it is.
    Expected<void> mayWrite(const std::filesystem::path& target) const;

private:
    struct Kept {
        std::filesystem::path file;
        std::string what;
    };
    std::vector<Kept> kept_;
};

} // namespace lampo
