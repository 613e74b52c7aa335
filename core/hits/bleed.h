#pragma once

#include "hits/hit.h"
#include "onsets/candidate.h"

#include <span>
#include <vector>

namespace lampo {

/// The candidates of one mic, as the judge and the finder see them.
struct MicCandidates {
    std::size_t mic = 0; ///< index in the session
    std::span<const Candidate> candidates;
};

/// How one drum is heard in another mic.
struct BleedPath {
    /// The level a stroke has there when it has 0 dB in its own mic, both relative to the mic's typical strong hit.
    Decibels level{-60};
    Milliseconds late;       ///< how much later than in its own mic; may be negative
    std::size_t strokes = 0; ///< that were heard there; 0: the drum is never heard there
};

/// What the close mics know about each other, learned from the recording itself. Indices are mics of the session.
class BleedMatrix {
public:
    BleedMatrix() = default;
    /// From strokes loud in their own mic (a guide), louder than in any other guide, and what the listening mic
    /// hears within 9 ms of them: the lowest level at which many of them lie, and the median of the times, so
    /// strokes of its own among them do no harm. Pairs seldom heard together stay at −60 dB.
    static BleedMatrix learn(std::span<const MicCandidates> guides, std::span<const MicCandidates> listeners,
                             std::size_t mics, SampleRate rate);

    const BleedPath& at(std::size_t drum, std::size_t mic) const { return paths_[drum * size_ + mic]; }
    /// Mics of the session; 0 before anything was learned.
    std::size_t size() const { return size_; }

private:
    std::size_t size_ = 0;
    std::vector<BleedPath> paths_;
};

/// For each guide and each of its candidates: the mic whose drum explains it, or the guide's own when none does.
/// Indices are mics of the session.
std::vector<std::vector<std::size_t>> explainBleed(std::span<const MicCandidates> guides, const BleedMatrix& matrix,
                                                   SampleRate rate);

} // namespace lampo
