#pragma once

#include "pipeline/outcome.h"

#include <optional>
#include <vector>

namespace lampo {

/// A stroke of the drum that a sample sounds beside.
struct SampleStroke {
    TakeIndex take;    ///< whose files it is in
    SourceFrame at;    ///< its mark in them
    ResultFrame lands; ///< where that sounds
    Decibels played;   ///< how loud it is, against a strong one of its drum
    Decibels level;    ///< the same, or what was said in its place
    bool out = false;  ///< whether it was said that nothing sounds there
};

/// What a sample does at a hit; none where its drum (of several mics of one group, any of them) has no part in it.
std::optional<SampleStroke> sampleStroke(const Session& session, const Outcome& outcome, const DrumSample& sample,
                                         HitIndex hit);
/// At all hits, in their order.
std::vector<SampleStroke> sampleStrokes(const Session& session, const Outcome& outcome, const DrumSample& sample);

} // namespace lampo
