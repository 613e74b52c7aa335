#pragma once

#include "base/indices.h"
#include "base/limits.h"

#include <cstdint>
#include <optional>

namespace lampo {

/// A set of mics by their index in the session; at most limits::mics.
using MicSet = std::uint64_t;
/// The set of all.
inline constexpr MicSet allMics = ~MicSet{0};
/// The set of one mic, or of none.
constexpr MicSet onlyMic(std::optional<MicIndex> mic) {
    return mic && *mic < limits::mics ? MicSet{1} << *mic : 0;
}

} // namespace lampo
