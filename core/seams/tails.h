#pragma once

#include "seams/free_stretches.h"
#include "seams/slice.h"
#include "seams/stretch.h"

#include <span>
#include <vector>

namespace lampo {

/// A tail that is lengthened, and how what follows it is moved.
struct LongerTail {
    Stretch stretch;            ///< of it
    SourceToResult shiftBehind; ///< of what follows
};

/// Finds what rings between attacks and can be stretched without touching them. What it gives is valid until the
/// next call.
class Tails {
public:
    /// By how much is kept whole behind attacks.
    Tails(const SeamMeasures& measures, SampleRate rate);

    /// The tails between two slices of one take, lengthened by one ratio until they fill the hole that opens. From
    /// an attack to 30 ms behind it the sound stays as it was recorded; strokes between the two ride along in
    /// proportion, and one too near its neighbour to leave a tail stays with it. Empty where nothing rings for long
    /// enough. `strokes`: of all drums, ascending.
    const std::vector<LongerTail>& between(const Slice& a, const Slice& b, std::span<const SourceFrame> strokes);

private:
    Range<SourceFrame> tailBetween(const Slice& a, const Slice& b) const;
    bool hasTail(const Slice& a, const Slice& b) const;
    void findSlices(const Slice& a, Slice b, std::span<const SourceFrame> strokes);

    FrameCount whole_;    ///< behind an attack a tail begins
    FrameCount shortest_; ///< a shorter one is none
    FrameCount long_;     ///< one that may be stretched as a whole, however little opens
    FrameCount most_;     ///< and one however much opens
    FrameCount longest_;  ///< of a longer one only the end is stretched
    std::vector<Slice> slices_;
    std::vector<LongerTail> tails_;
};

} // namespace lampo
