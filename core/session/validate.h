#pragma once

#include "base/error.h"
#include "session/session.h"

namespace lampo {

/// What a session may hold at most. Whatever can be made within these can be saved and opened again, and is
/// computed in reasonable time.
namespace limits {
inline constexpr std::size_t text = 4096;          ///< bytes of a name, a note, a path
inline constexpr std::int64_t frames = 0x7fffffff; ///< of a song, a file, an offset: 12 hours at 48 kHz
inline constexpr std::size_t changes = 10000;      ///< of tempo, of meter; sections; passages; pieces by hand
inline constexpr std::size_t corrections = 100000;
inline constexpr std::size_t versions = 1000;
inline constexpr int lowestRate = 8000, highestRate = 384000; ///< Hz
} // namespace limits

/// Whether a session is one that Lampo could have made: names, numbers and sizes. Every reader asks, and every
/// edit. Errors: badValue, saying what.
Expected<void> validate(const Session& session);

} // namespace lampo
