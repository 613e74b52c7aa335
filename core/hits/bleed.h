#pragma once

#include "hits/hit.h"
#include "onsets/candidate.h"

#include <span>
#include <vector>

namespace lampo {

/// One guide's candidates, as the judge and the finder see them.
struct GuideCandidates {
    std::size_t mic = 0; ///< index in the session
    std::span<const Candidate> candidates;
};

/// How loud each guide's drum is in each other guide's mic, learned from the recording: at(d, g) is the level a
/// stroke of guide d's drum has in guide g's mic when it has 0 dB in its own, both relative to the mic's typical
/// strong hit. Indices are places in the list of guides.
class BleedMatrix {
public:
    BleedMatrix() = default;
    /// From strokes loud in their own mic while no other mic hears a stroke of its own near them (quartiles, so a
    /// few wrong ones do no harm). Pairs never heard together stay at −60 dB.
    static BleedMatrix learn(std::span<const GuideCandidates> guides, SampleRate rate);

    Decibels at(std::size_t drum, std::size_t mic) const { return levels_[drum * size_ + mic]; }
    std::size_t size() const { return size_; }

private:
    std::size_t size_ = 0;
    std::vector<Decibels> levels_;
};

/// For each guide and each candidate: the guide whose drum explains it, or the guide itself when none does.
std::vector<std::vector<std::size_t>> explainBleed(std::span<const GuideCandidates> guides,
                                                   const BleedMatrix& matrix, SampleRate rate);

} // namespace lampo
