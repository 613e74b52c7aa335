#pragma once

#include "base/indices.h"
#include "base/limits.h"
#include "base/range.h"
#include "base/units.h"

#include <vector>

namespace lampo {

/// A run of hits whose first and last land and whose inner ones keep their proportions.
struct Phrase {
    TakeLetter take;   ///< of the hits
    SourceFrame first; ///< its first hit, by where that was found
    SourceFrame last;  ///< its last hit
    /// Per cent of the way from the kept proportions to where the hits would land alone
    double ease = limits::ease.defaultValue;
    bool operator==(const Phrase&) const = default;
};

/// The hits of one stretch of a take moved alike: shoved before they are quantized, or slipped afterwards.
struct PassageMove {
    TakeLetter take;          ///< of the hits
    Range<SourceFrame> range; ///< in which hits are moved, by where they were found
    FrameCount by;            ///< positive is later
    bool operator==(const PassageMove&) const = default;
};

/// The moves with one more, in order of their places; those in its way are cut short or in two. One by nothing only
/// takes away.
std::vector<PassageMove> withMove(const std::vector<PassageMove>& moves, const PassageMove& added);
/// How far a place is moved; 0 where nothing was said.
FrameCount movedBy(const std::vector<PassageMove>& moves, TakeLetter take, SourceFrame at);

/// The phrases with one more; those that share a hit's place with it give way.
std::vector<Phrase> withPhrase(const std::vector<Phrase>& phrases, const Phrase& added);

} // namespace lampo
