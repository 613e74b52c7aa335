#pragma once

#include "seams/plan.h"

namespace lampo {

/// Whether a segment goes on in its take from the one before it, moved a little against it: not where takes meet,
/// nor where bars were put in, left out, repeated or grafted.
inline bool goesOnInItsTake(const Plan& plan, std::size_t segment, SampleRate rate) {
    if (segment == 0)
        return false;
    const Segment &earlier = plan.segments[segment - 1], &later = plan.segments[segment];
    const FrameCount farthest = toFrames(Seconds{1}, rate); // no hole in a take is longer
    return earlier.take == later.take && abs(later.shift - earlier.shift) < farthest &&
           abs(later.sourceAt(later.sounds.begin) - earlier.sourceAt(earlier.sounds.end)) < farthest;
}

} // namespace lampo
