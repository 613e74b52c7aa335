#pragma once

#include "session/session.h"

#include <filesystem>
#include <vector>

namespace lampo {

/// A file of the recording that lies elsewhere now, or is another one now.
struct Relocation {
    std::filesystem::path from; ///< where the session looks for it
    std::filesystem::path to;   ///< where it is
    std::uint64_t content = 0;  ///< fingerprint of what is there; 0 where unknown
    FrameCount length;          ///< of what is there, at the session's rate
};

/// Every take, companion and kept version with these files in their new places. What was corrected stays.
Session relocated(const Session& session, const std::vector<Relocation>& relocations);

} // namespace lampo
