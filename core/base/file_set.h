#pragma once

#include "base/descriptor.h"
#include "base/provisional_file.h"

#include <filesystem>
#include <vector>

namespace lampo {

/// Files of one folder, and a few elsewhere, that get their names together: all or none. Once all are on the disk
/// under provisional names, a journal in the folder says which name each shall have. Each then changes places with
/// what bears its name; when one cannot, those before it change back. Killed in between, the rest is done by the
/// next FileSet of that folder or by finishInterrupted(). One set of a folder at a time: the lock ends with the
/// process that holds it.
class FileSet {
public:
    /// Makes the folder when it is missing, waits for nobody, finishes what was interrupted there, removes what is
    /// left over. Errors: unwritable (also when somebody else is writing there).
    static Expected<FileSet> in(const std::filesystem::path& folder);

    /// The one moved from finishes nothing any more.
    FileSet(FileSet&& other) noexcept;
    FileSet& operator=(FileSet&& other) noexcept = delete;
    ~FileSet();

    /// Where all files of the set lie.
    const std::filesystem::path& folder() const { return folder_; }
    /// Takes a complete and synced file.
    void add(ProvisionalFile file) { files_.push_back(std::move(file)); }
    /// Errors: unwritable, diskFull; then all is as it was.
    Expected<void> commit();

private:
    FileSet(std::filesystem::path folder, Descriptor lock, bool made)
        : folder_(std::move(folder)), lock_(std::move(lock)), made_(made) {}

    std::filesystem::path folder_;
    Descriptor lock_;
    bool made_ = false; ///< the folder, by this set: it goes again when nothing was named
    std::vector<ProvisionalFile> files_;
};

/// Gives the names that an interrupted FileSet of this folder could not give any more. Does nothing while somebody
/// is writing there.
void finishInterrupted(const std::filesystem::path& folder);

} // namespace lampo
