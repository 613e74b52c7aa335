#include "base/provisional_file.h"

#include <algorithm>
#include <array>
#include <cerrno>
#include <cstring>
#include <fcntl.h>
#include <fmt/core.h>
#include <random>
#include <string>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>
#include <utility>

namespace lampo {
namespace {

namespace fs = std::filesystem;

constexpr std::string_view prefix = ".lampo-";
constexpr std::string_view suffix = ".part";
constexpr std::size_t digits = 16;
constexpr int tries = 8;
constexpr int maxLinks = 40; // as the kernel has it

fs::path folderOf(const fs::path& file) {
    return file.has_parent_path() ? file.parent_path() : fs::path(".");
}

/// Where the links that a name stands for end, whether anything is there or not.
fs::path followed(fs::path file) {
    std::error_code code;
    for (int link = 0; link < maxLinks && fs::is_symlink(file, code); ++link) {
        const fs::path next = fs::read_symlink(file, code);
        file = next.is_absolute() ? next : folderOf(file) / next;
    }
    return file;
}

tl::unexpected<Error> notMade(const fs::path& wanted) {
    const int reason = errno;
    if (reason == ENOSPC || reason == EDQUOT)
        return fail(ErrorKind::diskFull,
                    quotedName(wanted) + " could not be written: the disk is full; nothing was changed");
    return fail(ErrorKind::unwritable, fmt::format("{} could not be written in \"{}\": {}", quotedName(wanted),
                                                   folderOf(wanted).string(), std::strerror(reason)));
}

tl::unexpected<Error> notComplete(const fs::path& wanted) {
    return fail(ErrorKind::diskFull,
                quotedName(wanted) + " could not be written to the end: the disk is full or does not take files of "
                                     "that size; what was there before is untouched");
}

/// Permissions, and as far as we may the owner, of what will be replaced.
void takeAfter(int descriptor, const fs::path& replaced) {
    struct stat before {};
    if (::stat(replaced.c_str(), &before) != 0 || !S_ISREG(before.st_mode))
        return;
    [[maybe_unused]] const int owned = ::fchown(descriptor, before.st_uid, before.st_gid);
    (void)::fchmod(descriptor, before.st_mode & 07777);
}

} // namespace

Expected<ProvisionalFile> ProvisionalFile::beside(const fs::path& wanted) {
    ProvisionalFile file(wanted, followed(wanted));
    std::error_code code;
    const auto kind = fs::status(file.target_, code).type();
    if (kind != fs::file_type::not_found && kind != fs::file_type::none && kind != fs::file_type::regular)
        return fail(ErrorKind::unwritable,
                    fmt::format("{} is not a file that can be replaced{}", quotedName(wanted),
                                kind == fs::file_type::directory ? ": a folder bears that name" : ""));
    removeLeftovers(folderOf(file.target_));
    for (int attempt = 0; attempt < tries; ++attempt) {
        const fs::path path = folderOf(file.target_) / provisionalName();
        file.descriptor_ =
            Descriptor(::open(path.c_str(), O_RDWR | O_CREAT | O_EXCL | O_NOFOLLOW | O_CLOEXEC, 0666));
        if (!file.descriptor_ && errno == EEXIST)
            continue;
        if (!file.descriptor_)
            return notMade(wanted);
        file.path_ = path;
        struct stat made {};
        if ((::flock(file.descriptor(), LOCK_EX | LOCK_NB) != 0 && errno == EWOULDBLOCK) ||
            ::fstat(file.descriptor(), &made) != 0 || made.st_nlink == 0) {
            file.close(); // taken for a leftover that very moment
            continue;
        }
        takeAfter(file.descriptor(), file.target_);
        return file;
    }
    return fail(ErrorKind::unwritable, quotedName(wanted) + " could not be written: no free name beside it");
}

ProvisionalFile::ProvisionalFile(ProvisionalFile&& other) noexcept
    : wanted_(std::move(other.wanted_)), target_(std::move(other.target_)),
      path_(std::exchange(other.path_, fs::path())), descriptor_(std::move(other.descriptor_)) {}

ProvisionalFile& ProvisionalFile::operator=(ProvisionalFile&& other) noexcept {
    std::swap(wanted_, other.wanted_);
    std::swap(target_, other.target_);
    std::swap(path_, other.path_);
    std::swap(descriptor_, other.descriptor_);
    return *this;
}

ProvisionalFile::~ProvisionalFile() {
    close();
}

/// Removed before it is unlocked: in between, nobody takes it for a leftover.
void ProvisionalFile::close() {
    if (!path_.empty())
        ::unlink(path_.c_str());
    path_.clear();
    descriptor_.close();
}

Expected<void> ProvisionalFile::write(std::string_view bytes) {
    while (!bytes.empty()) {
        const ssize_t done = ::write(descriptor(), bytes.data(), bytes.size());
        if (done < 0 && errno == EINTR)
            continue;
        if (done <= 0)
            return notComplete(wanted_);
        bytes.remove_prefix(static_cast<std::size_t>(done));
    }
    return {};
}

Expected<void> ProvisionalFile::sync() {
    // Without this a power cut could leave the new name on an empty file.
    if (::fsync(descriptor()) != 0 && errno != EINVAL && errno != EROFS)
        return notComplete(wanted_);
    return {};
}

Expected<void> ProvisionalFile::commit() {
    if (::rename(path_.c_str(), target_.c_str()) != 0)
        return fail(ErrorKind::unwritable,
                    fmt::format("{} could not be given its name: {}", quotedName(wanted_), std::strerror(errno)));
    path_.clear();
    close();
    syncFolder(folderOf(target_));
    return {};
}

std::string provisionalName() {
    std::random_device source;
    constexpr std::string_view hex = "0123456789abcdef";
    std::string name(prefix);
    for (std::size_t digit = 0; digit < digits; ++digit)
        name += hex[source() % hex.size()];
    return name += suffix;
}

bool isProvisionalName(std::string_view name) {
    if (name.size() != prefix.size() + digits + suffix.size() || !name.starts_with(prefix) ||
        !name.ends_with(suffix))
        return false;
    const std::string_view middle = name.substr(prefix.size(), digits);
    return middle.find_first_not_of("0123456789abcdef") == std::string_view::npos;
}

void removeLeftovers(const fs::path& folder) {
    std::error_code code;
    if (fs::exists(folder / namesJournal, code))
        return;
    for (fs::directory_iterator entry(folder, code), end; !code && entry != end; entry.increment(code)) {
        if (!isProvisionalName(entry->path().filename().string()))
            continue;
        const Descriptor descriptor(::open(entry->path().c_str(), O_RDONLY | O_NOFOLLOW | O_NONBLOCK | O_CLOEXEC));
        struct stat kind {};
        if (descriptor && ::fstat(descriptor.number(), &kind) == 0 && S_ISREG(kind.st_mode) &&
            ::flock(descriptor.number(), LOCK_EX | LOCK_NB) == 0)
            ::unlink(entry->path().c_str());
    }
}

void syncFolder(const fs::path& folder) {
    if (const Descriptor descriptor(::open(folder.c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC)); descriptor)
        (void)::fsync(descriptor.number());
}

} // namespace lampo
