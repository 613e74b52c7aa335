#pragma once

#include "base/position.h"

#include <compare>
#include <concepts>
#include <cstdint>
#include <filesystem>
#include <utility>

namespace lampo {

/// Where the samples of one mic of one take (or of a companion) come from. A plain value; nothing is opened.
struct SourceFile {
    /// In place of a channel: the mean of all of them.
    static constexpr int everyChannel = -1;

    std::filesystem::path file; ///< empty where a take lacks the mic
    int channel = 0;            ///< of the file, from 0
    FrameCount offset;          ///< where the file's first frame lies in the take; what falls before 0 is not heard
    FrameCount length;          ///< of the file when it was brought in, at the session's rate; 0 where unknown
    std::uint64_t content = 0;  ///< its fingerprint then; 0 where unknown

    SourceFile() = default;
    /// Converts, so that a path alone is a file's first channel from its begin.
    template <std::convertible_to<std::filesystem::path> Path>
    SourceFile(Path path, int which = 0, FrameCount begins = {}, FrameCount lasts = {})
        : file(std::move(path)), channel(which), offset(begins), length(lasts) {}

    auto operator<=>(const SourceFile&) const = default;
    /// Whether there is no file: the take lacks this mic.
    bool empty() const { return file.empty(); }
    /// The first frame of the take behind it.
    SourceFrame end() const { return SourceFrame{0} + offset + length; }
};

} // namespace lampo
