#pragma once

#include "base/position.h"

#include <boost/lockfree/spsc_queue.hpp>

#include <array>

namespace lampo {

inline constexpr std::size_t blockFrames = 256;

/// A piece of mixed sound. `tick` counts the blocks of its run, missed ones too; `at` is where in the song the
/// piece comes from (it jumps back in loops).
struct SoundBlock {
    std::int64_t tick = 0;                        ///< from the begin of the run
    ResultFrame at;                               ///< of the first frame
    bool last = false;                            ///< nothing follows
    std::array<float, 2 * blockFrames> samples{}; ///< left and right in turn, full scale is 1
};

/// One continuous supply of blocks. The feeder pushes, the audio callback pops; neither waits for the other. All
/// streams between one order to play and the next belong to one run; within it the callback changes over from one
/// to the next where the ticks meet.
struct Stream {
    /// Holds `capacity` blocks of run number `ofRun`, which is above 0.
    Stream(std::int64_t ofRun, std::size_t capacity) : run(ofRun), blocks(capacity) {}

    const std::int64_t run;                         ///< its number, above 0
    boost::lockfree::spsc_queue<SoundBlock> blocks; ///< that wait to be heard
};

} // namespace lampo
