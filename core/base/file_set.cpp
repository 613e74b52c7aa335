#include "base/file_set.h"

#include "base/whole_file.h"

#include <algorithm>
#include <cerrno>
#include <cstring>
#include <fcntl.h>
#include <fmt/core.h>
#include <iterator>
#include <set>
#include <string>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>
#include <utility>

namespace lampo {
namespace {

namespace fs = std::filesystem;

constexpr const char* lockName = ".lampo-names.lock";
constexpr std::string_view schema = "lampo-names-1";
constexpr std::uintmax_t largestJournal = 1U << 20;

/// One file that waits for its name. After it was named, its provisional name is that of what it replaced.
struct Pending {
    fs::path provisional, name; ///< in one folder
    ino_t inode = 0;            ///< of the new file: tells whether it has its name already
};

/// Fields end with NUL, which no file name contains. Files elsewhere are absolute.
std::string journalOf(const std::vector<Pending>& pending, const fs::path& folder) {
    const auto field = [&](const fs::path& file) {
        return file.parent_path() == folder ? file.filename().string() : fs::absolute(file).string();
    };
    std::string text(schema);
    text += '\0';
    for (const Pending& one : pending)
        for (const std::string& part : {field(one.provisional), field(one.name), std::to_string(one.inode)})
            (text += part) += '\0';
    return text;
}

/// A journal is somebody's file like any other: only files of ours are named, where they are.
bool isOurs(const Pending& one) {
    const std::string name = one.name.filename().string();
    return isProvisionalName(one.provisional.filename().string()) && !name.empty() && name != "." && name != ".." &&
           !name.starts_with(".lampo-") && one.provisional.parent_path() == one.name.parent_path();
}

std::vector<Pending> pendingIn(const std::string& text, const fs::path& folder) {
    std::vector<std::string> fields;
    for (std::size_t at = 0, end = 0; (end = text.find('\0', at)) != std::string::npos; at = end + 1)
        fields.push_back(text.substr(at, end - at));
    std::vector<Pending> pending;
    if (fields.empty() || fields.front() != schema)
        return pending;
    for (std::size_t f = 1; f + 2 < fields.size(); f += 3) {
        const Pending one{folder / fields[f], folder / fields[f + 1],
                          std::strtoull(fields[f + 2].c_str(), nullptr, 10)};
        if (isOurs(one))
            pending.push_back(one);
    }
    return pending;
}

/// 0: no such file.
ino_t inodeOf(const fs::path& file) {
    struct stat found {};
    return ::lstat(file.c_str(), &found) == 0 && S_ISREG(found.st_mode) ? found.st_ino : 0;
}

bool renames(const fs::path& from, const fs::path& to) {
    return ::rename(from.c_str(), to.c_str()) == 0;
}

/// Two names change places; where the second is free, the first moves there. Where a file system cannot exchange,
/// by way of a third name: what bore the second is never gone.
bool exchange(const fs::path& one, const fs::path& other) {
    if (::renameat2(AT_FDCWD, one.c_str(), AT_FDCWD, other.c_str(), RENAME_EXCHANGE) == 0)
        return true;
    if (errno == ENOENT)
        return renames(one, other);
    if (errno != EINVAL && errno != ENOSYS)
        return false;
    if (inodeOf(other) == 0)
        return renames(one, other);
    const fs::path aside = one.parent_path() / provisionalName();
    if (!renames(other, aside))
        return false;
    if (!renames(one, other)) {
        const int reason = errno;
        renames(aside, other);
        errno = reason;
        return false;
    }
    renames(aside, one);
    return true;
}

bool giveName(const Pending& one) {
    return inodeOf(one.name) == one.inode ||
           (inodeOf(one.provisional) == one.inode && exchange(one.provisional, one.name));
}

bool takeBack(const Pending& one) {
    return inodeOf(one.name) != one.inode || exchange(one.name, one.provisional);
}

void syncFolders(const std::vector<Pending>& pending) {
    std::set<fs::path> folders;
    for (const Pending& one : pending)
        if (folders.insert(one.name.parent_path()).second)
            syncFolder(one.name.parent_path());
}

void removeJournal(const fs::path& folder) {
    ::unlink((folder / namesJournal).c_str());
    syncFolder(folder);
}

/// What an earlier set began. The files that its own replaced are left over.
void finish(const fs::path& folder) {
    const auto text = readWhole(folder / namesJournal, largestJournal, "journal");
    if (!text)
        return;
    const auto pending = pendingIn(*text, folder);
    for (const Pending& one : pending)
        giveName(one);
    syncFolders(pending);
    removeJournal(folder);
}

/// Nothing open when somebody else holds it (EWOULDBLOCK) or it cannot be made.
Descriptor lock(const fs::path& folder) {
    const fs::path file = folder / lockName;
    for (;;) {
        Descriptor descriptor(::open(file.c_str(), O_RDWR | O_CREAT | O_NOFOLLOW | O_NONBLOCK | O_CLOEXEC, 0666));
        if (!descriptor)
            return descriptor;
        if (::flock(descriptor.number(), LOCK_EX | LOCK_NB) != 0 && errno == EWOULDBLOCK) {
            descriptor.close();
            errno = EWOULDBLOCK;
            return descriptor;
        }
        struct stat held {
        }, named{};
        const bool still = ::fstat(descriptor.number(), &held) == 0 && ::stat(file.c_str(), &named) == 0 &&
                           held.st_ino == named.st_ino && held.st_dev == named.st_dev;
        if (still)
            return descriptor; // or else its last holder removed it in between
    }
}

/// Removed before it is closed: in between, nobody else takes it for free.
void unlock(const fs::path& folder, Descriptor held) {
    ::unlink((folder / lockName).c_str());
    held.close();
}

} // namespace

Expected<FileSet> FileSet::in(const fs::path& folder) {
    std::error_code code;
    const bool made = fs::create_directories(folder, code);
    if (code || !fs::is_directory(folder))
        return fail(ErrorKind::unwritable, fmt::format("The folder {} could not be made{}; choose another one",
                                                       quotedName(folder), code ? ": " + code.message() : ""));
    Descriptor held = lock(folder);
    if (!held && errno == EWOULDBLOCK)
        return fail(
            ErrorKind::unwritable,
            fmt::format("Something else is being printed into the folder {}; wait for it, or choose another one",
                        quotedName(folder)));
    if (!held)
        return fail(ErrorKind::unwritable,
                    fmt::format("Nothing can be written into the folder {}: {}; choose another one",
                                quotedName(folder), std::strerror(errno)));
    finish(folder);
    removeLeftovers(folder);
    return FileSet(folder, std::move(held), made);
}

FileSet::FileSet(FileSet&& other) noexcept
    : folder_(std::move(other.folder_)), lock_(std::move(other.lock_)), made_(std::exchange(other.made_, false)),
      files_(std::move(other.files_)) {}

FileSet::~FileSet() {
    files_.clear();
    if (!lock_)
        return;
    unlock(folder_, std::move(lock_));
    std::error_code ignored;
    if (made_)
        fs::remove(folder_, ignored); // only an empty one goes
}

Expected<void> FileSet::commit() {
    std::vector<Pending> pending;
    for (const ProvisionalFile& file : files_)
        pending.push_back({file.path(), file.target(), inodeOf(file.path())});
    if (auto written = writeAtomically(folder_ / namesJournal, journalOf(pending, folder_)); !written)
        return written;
    const auto failed = std::find_if_not(pending.begin(), pending.end(), giveName);
    const std::string reason = failed == pending.end() ? "" : std::strerror(errno);
    bool back = true;
    if (failed != pending.end())
        for (auto one = std::make_reverse_iterator(failed); one != pending.rend(); ++one)
            back = takeBack(*one) && back;
    syncFolders(pending);
    if (back)
        removeJournal(folder_);
    files_.clear(); // with them go what was replaced, or what was taken back
    if (failed != pending.end())
        return fail(
            ErrorKind::unwritable,
            fmt::format("{} could not be given its name: {}{}", quotedName(failed->name), reason,
                        back ? "; all files are as they were" : "; the next print into this folder completes it"));
    made_ = false;
    return {};
}

void finishInterrupted(const fs::path& folder) {
    std::error_code code;
    if (!fs::exists(folder / namesJournal, code))
        return;
    if (Descriptor held = lock(folder)) {
        finish(folder);
        unlock(folder, std::move(held));
    }
}

} // namespace lampo
