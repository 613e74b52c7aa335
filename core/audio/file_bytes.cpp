#include "audio/file_bytes.h"

#include "base/text.h"

#include <algorithm>
#include <cerrno>
#include <cstring>
#include <fcntl.h>
#include <fmt/core.h>
#include <sys/stat.h>
#include <unistd.h>
#include <utility>

namespace lampo {

Expected<FileBytes> FileBytes::open(const std::filesystem::path& file) {
    // Not blocking: a pipe would wait for a writer. Reading from a plain file does not heed it.
    Descriptor descriptor(::open(file.c_str(), O_RDONLY | O_CLOEXEC | O_NONBLOCK));
    if (!descriptor && errno != ENOENT && errno != ENOTDIR && errno != ELOOP)
        return fail(ErrorKind::unreadable,
                    fmt::format("{} could not be opened: {}", quotedName(file), std::strerror(errno)));
    struct stat status {};
    if (!descriptor || ::fstat(descriptor.number(), &status) != 0 || !S_ISREG(status.st_mode))
        return fail(ErrorKind::notFound, fmt::format("{} is not there (looked in \"{}\")", quotedName(file),
                                                     visible(file.parent_path().string())));
    if (status.st_size == 0)
        return fail(ErrorKind::empty, quotedName(file) + " is empty: leave it out of the folder, or copy it again");
    FileBytes bytes(std::move(descriptor));
    bytes.size_ = status.st_size;
    return bytes;
}

std::size_t FileBytes::read(std::int64_t at, std::span<char> into) {
    std::size_t done = 0;
    while (done < into.size() && at >= 0) {
        if (at < begin_ || at >= begin_ + static_cast<std::int64_t>(piece_.size()))
            if (!fetch(at))
                break;
        const auto skip = static_cast<std::size_t>(at - begin_);
        const std::size_t count = std::min(into.size() - done, piece_.size() - skip);
        std::copy_n(piece_.begin() + static_cast<std::ptrdiff_t>(skip), count,
                    into.begin() + static_cast<std::ptrdiff_t>(done));
        done += count;
        at += static_cast<std::int64_t>(count);
    }
    return done;
}

bool FileBytes::fetch(std::int64_t at) {
    const bool inOrder = at == begin_ + static_cast<std::int64_t>(piece_.size()) && at > 0;
    const std::size_t size = inOrder ? nextSize_ : shortestPiece;
    nextSize_ = std::min(2 * size, longestPiece);
    piece_.resize(size);
    begin_ = at;
    ssize_t got = 0;
    do
        got = ::pread(descriptor_.number(), piece_.data(), size, at);
    while (got < 0 && errno == EINTR);
    piece_.resize(static_cast<std::size_t>(std::max<ssize_t>(got, 0)));
    if (piece_.empty())
        return false;
    // The next piece comes from the disk while this one is used.
    const std::int64_t next = at + got;
    (void)::posix_fadvise(descriptor_.number(), next, static_cast<off_t>(nextSize_), POSIX_FADV_WILLNEED);
    for (const Overlay& overlay : overlays_)
        for (std::size_t i = 0; i < overlay.bytes.size(); ++i)
            if (const std::int64_t place = overlay.at + static_cast<std::int64_t>(i); place >= at && place < next)
                piece_[static_cast<std::size_t>(place - at)] = overlay.bytes[i];
    return true;
}

void FileBytes::overlay(std::int64_t at, std::span<const char> bytes) {
    overlays_.push_back({at, {bytes.begin(), bytes.end()}});
    piece_.clear();
    begin_ = 0;
}

} // namespace lampo
