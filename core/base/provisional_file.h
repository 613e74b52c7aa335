#pragma once

#include "base/descriptor.h"
#include "base/error.h"

#include <filesystem>
#include <string>
#include <string_view>

namespace lampo {

/// A file while it is being written, beside the name that it will have. Its own name is random, it is created
/// exclusively (over nothing, through no link), and it is locked as long as its writer lives, so that what a killed
/// writer left is told from what is being written, and removed by the next that writes there. Destroyed before
/// commit(), it is gone. Where the wanted name is a link, the user chose that: what it points to is replaced.
/// What is replaced keeps its permissions; a new file has those of the process. One thread at a time; movable.
class ProvisionalFile {
public:
    /// Errors: unwritable; diskFull.
    static Expected<ProvisionalFile> beside(const std::filesystem::path& wanted);

    /// The one moved from commits nothing any more.
    ProvisionalFile(ProvisionalFile&& other) noexcept;
    /// As when it is made of another.
    ProvisionalFile& operator=(ProvisionalFile&& other) noexcept;
    ~ProvisionalFile();

    const std::filesystem::path& path() const { return path_; }     ///< now
    const std::filesystem::path& wanted() const { return wanted_; } ///< as it was asked for
    const std::filesystem::path& target() const { return target_; } ///< the same, with links followed
    /// Open for reading and writing. Stays this object's.
    int descriptor() const { return descriptor_.number(); }

    /// Errors: diskFull.
    Expected<void> write(std::string_view bytes);
    /// On the disk, whatever happens to the machine. Errors: diskFull.
    Expected<void> sync();
    /// Gives it the wanted name in one step and syncs the folder: whoever looks sees what was there before or all
    /// of this. Errors: unwritable; then what was there before is untouched.
    Expected<void> commit();

private:
    ProvisionalFile(std::filesystem::path wanted, std::filesystem::path target)
        : wanted_(std::move(wanted)), target_(std::move(target)) {}
    void close();

    std::filesystem::path wanted_, target_, path_;
    Descriptor descriptor_;
};

/// A new name of a ProvisionalFile, and whether a name is one.
std::string provisionalName();
bool isProvisionalName(std::string_view name);

/// In a folder where names are being given, or were when the program ended (base/file_set.h).
inline constexpr const char* namesJournal = ".lampo-names.journal";

/// Removes from a folder the provisional files that nobody is writing any more; not where some still wait for their
/// names.
void removeLeftovers(const std::filesystem::path& folder);

/// What was renamed or made in a folder is on the disk. Best effort: some file systems cannot.
void syncFolder(const std::filesystem::path& folder);

} // namespace lampo
