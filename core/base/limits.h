#pragma once

#include <cstddef>
#include <cstdint>

/// What there may be at most. Whatever can be made within these can be saved and opened again, and is computed in
/// reasonable time. Everything that reads, edits or imports asks here.
namespace lampo::limits {

inline constexpr std::size_t text = 4096;          ///< bytes of a name, a note, a path
inline constexpr std::int64_t frames = 0x7fffffff; ///< of a song, a file, an offset: 12 hours at 48 kHz
inline constexpr std::size_t changes = 10000;      ///< of tempo, of meter; sections; passages; pieces by hand
inline constexpr std::size_t corrections = 100000;
inline constexpr std::size_t versions = 1000;
inline constexpr int lowestRate = 8000, highestRate = 384000; ///< Hz

} // namespace lampo::limits
