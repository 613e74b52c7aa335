#pragma once

#include "base/position.h"

#include <memory>
#include <span>
#include <vector>

namespace lampo {

/// A recording of one stroke that is played at a place.
struct NoteSound {
    ResultFrame at;                                  ///< where its first sample sounds
    float gain = 1;                                  ///< amplitude; negative: inverted
    std::shared_ptr<const std::vector<float>> sound; ///< mono, at the session's rate; never null
};
/// In order of time.
using NoteSounds = std::vector<NoteSound>;

/// Plays them, from any place. One thread at a time.
class NotePlayer {
public:
    explicit NotePlayer(std::shared_ptr<const NoteSounds> notes); ///< never null
    /// Adds what sounds of them to mono sound that begins at `at`.
    void add(ResultFrame at, std::span<float> sound) const;

private:
    std::shared_ptr<const NoteSounds> notes_;
    FrameCount longest_; ///< of their recordings
};

} // namespace lampo
