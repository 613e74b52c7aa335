#pragma once

#include "onsets/candidate.h"
#include "onsets/low_rate.h"

#include <span>
#include <vector>

namespace lampo {

/// A stroke that is told by what it sounds like.
struct FamiliarStroke {
    SourceFrame at;     ///< where it begins, as the strokes that it is like begin
    SourceFrame like;   ///< of these the loudest begins there: a candidate
    BandEnergies added; ///< as Candidate::added: what those added, as much softer as it is
};

/// Soft strokes that hardly rise out of what rings on, so that their loudness does not tell them: they sound like
/// strong strokes of the same mic. The sound is whitened by what is heard between its strokes; the means of those
/// strong strokes that are alike are slid along it (template matching by a matched filter in coloured noise;
/// textbook). `heard`: the mic's candidates, in order; near them nothing is told. Every one told is softer than
/// they are on the whole, and of its own drum or of another that bleeds here. In order of time. Pure.
std::vector<FamiliarStroke> familiarStrokes(const LowRateSound& sound, SampleRate rate,
                                            std::span<const Candidate> heard);

} // namespace lampo
