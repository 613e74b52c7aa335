#pragma once

#include "base/position.h"

#include <memory>
#include <vector>

namespace lampo {

/// A recording of one stroke that is played at a place.
struct NoteSound {
    ResultFrame at;                                  ///< where its first sample sounds
    float gain = 1;                                  ///< amplitude
    std::shared_ptr<const std::vector<float>> sound; ///< mono, at the session's rate; never null
};
/// In order of time.
using NoteSounds = std::vector<NoteSound>;

} // namespace lampo
