#pragma once

#include <filesystem>
#include <memory>
#include <string>

namespace lampo {

struct Session;

/// A kept state of the session, by name. What it holds never changes; it keeps no versions itself.
struct Version {
    std::string name;                       ///< no other version's
    std::string kept;                       ///< when, as "2026-11-23 20:30", local time; empty: not known
    std::filesystem::path print{};          ///< the folder it was printed to; empty: it was not
    std::shared_ptr<const Session> session; ///< never null; without versions of its own

    /// Of all that they hold.
    bool operator==(const Version& other) const;
};

} // namespace lampo
