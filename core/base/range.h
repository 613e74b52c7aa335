#pragma once

#include "base/position.h"

#include <algorithm>

namespace lampo {

/// Half open: [begin, end). Empty when end <= begin.
template <class Pos>
struct Range {
    Pos begin;
    Pos end;

    bool operator==(const Range&) const = default;
    constexpr bool empty() const { return end <= begin; }
    constexpr FrameCount length() const { return end - begin; }
    constexpr bool contains(Pos at) const { return begin <= at && at < end; }
    constexpr Range intersected(Range other) const {
        return {std::max(begin, other.begin), std::min(end, other.end)};
    }
};

} // namespace lampo
