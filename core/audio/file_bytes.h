#pragma once

#include "base/descriptor.h"
#include "base/error.h"

#include <cstdint>
#include <filesystem>
#include <span>
#include <vector>

namespace lampo {

/// A file's bytes, opened read-only, fetched in pieces that grow while reading goes on in order: few long reads are
/// what disks and networks like, short ones after a jump what the ear waits for. Some bytes may be given other
/// values for the reader, the file stays as it is. One thread at a time.
class FileBytes {
public:
    static constexpr std::size_t shortestPiece = std::size_t{1}
                                                 << 16; ///< bytes that a read asks for at first, after a jump
    static constexpr std::size_t longestPiece = std::size_t{1} << 18; ///< and at most, when reading goes on

    /// Errors: notFound (no such file, or it is not a plain file), unreadable (not allowed), empty.
    static Expected<FileBytes> open(const std::filesystem::path& file);

    /// In bytes, when it was opened.
    std::int64_t size() const { return size_; }
    /// Fills `into` from byte `at` on; how many bytes there were, fewer at the end and where the file cannot be
    /// read.
    std::size_t read(std::int64_t at, std::span<char> into);
    /// From now on the bytes from `at` on read as these.
    void overlay(std::int64_t at, std::span<const char> bytes);

private:
    explicit FileBytes(Descriptor descriptor) : descriptor_(std::move(descriptor)) {}
    bool fetch(std::int64_t at);

    Descriptor descriptor_;
    std::int64_t size_ = 0;
    std::vector<char> piece_;
    std::int64_t begin_ = 0; ///< of the piece, in the file
    std::size_t nextSize_ = shortestPiece;
    struct Overlay {
        std::int64_t at = 0;
        std::vector<char> bytes;
    };
    std::vector<Overlay> overlays_;
};

} // namespace lampo
