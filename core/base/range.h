#pragma once

#include "base/position.h"

#include <algorithm>

namespace lampo {

/// Half open: [begin, end). Empty when end <= begin.
template <class Pos>
struct Range {
    Pos begin; ///< the first place of it
    Pos end;   ///< the first place behind it

    bool operator==(const Range&) const = default;
    /// Whether no place lies in it.
    constexpr bool empty() const { return end <= begin; }
    /// Negative when it ends before it begins.
    constexpr FrameCount length() const { return end - begin; }
    /// Whether a place lies in it; its end does not.
    constexpr bool contains(Pos at) const { return begin <= at && at < end; }
    /// What lies in both; empty when nothing does.
    constexpr Range intersected(Range other) const {
        return {std::max(begin, other.begin), std::min(end, other.end)};
    }
};

} // namespace lampo
