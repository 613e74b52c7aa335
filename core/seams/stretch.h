#pragma once

#include "base/range.h"

namespace lampo {

/// A tail that is lengthened to fill a hole, on all mics by the same ratio.
struct Stretch {
    Range<SourceFrame> tail; ///< as it was recorded; not empty
    Range<ResultFrame> over; ///< where it sounds, longer
    bool operator==(const Stretch&) const = default;

    /// How many times its length it becomes.
    double ratio() const {
        return static_cast<double>(over.length().frames) / static_cast<double>(tail.length().frames);
    }
    /// Where a frame of it sounds; outside the tail as it was recorded.
    ResultFrame placeOf(SourceFrame at) const {
        if (at < tail.begin)
            return over.begin + (at - tail.begin);
        if (at >= tail.end)
            return over.end + (at - tail.end);
        return over.begin + scaled(at - tail.begin, ratio());
    }
    /// What of the tail sounds there; outside it as it was recorded.
    SourceFrame sourceAt(ResultFrame at) const {
        if (at < over.begin)
            return tail.begin + (at - over.begin);
        if (at >= over.end)
            return tail.end + (at - over.end);
        return tail.begin +
               FrameCount{static_cast<std::int64_t>(static_cast<double>((at - over.begin).frames) / ratio())};
    }
};

} // namespace lampo
