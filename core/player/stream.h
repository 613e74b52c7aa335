#pragma once

#include "base/position.h"

#include <boost/lockfree/spsc_queue.hpp>

#include <array>

namespace lampo {

inline constexpr std::size_t blockFrames = 256;

/// A piece of mixed sound. `tick` counts blocks since the player was made and orders everything that is heard;
/// `at` is where in the song the piece comes from (it jumps back in loops).
struct SoundBlock {
    std::int64_t tick = 0;
    ResultFrame at;
    bool last = false; ///< nothing follows
    std::array<float, 2 * blockFrames> samples{};
};

/// One continuous supply of blocks. The feeder pushes, the audio callback pops; neither waits for the other. A new
/// programme or a jump is a new stream; the callback changes over where the ticks meet.
struct Stream {
    boost::lockfree::spsc_queue<SoundBlock, boost::lockfree::capacity<48>> blocks; // 256 ms at 48 kHz
};

} // namespace lampo
