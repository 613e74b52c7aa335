#pragma once

#include "base/mic_set.h"
#include "base/position.h"
#include "base/units.h"
#include "session/role.h"

#include <optional>
#include <vector>

namespace lampo {

/// A shared hit: one moment at which all mics are cut. first <= anchor <= last.
struct Hit {
    SourceFrame anchor; ///< the attack that lands on the grid: of the highest-ranked drum, or as Anchor says
    SourceFrame first;  ///< the earliest attack of the cluster: the cut lies before it
    SourceFrame last;   ///< the latest
    std::optional<MicIndex> mic{}; ///< the guide that gave the anchor; none: no guide heard it
    MicSet detectedBy = 0;         ///< all guides with an attack in the cluster
    Voice voice = Voice::other;    ///< the drum that struck
    Decibels level;                ///< of the anchor, relative to its mic's typical strong hit
    bool added = false;            ///< by the user
    bool bare = false;             ///< no attack: a cut that moves with its neighbours
    FrameCount marked{};           ///< how far corrections moved the anchor from where it was found
    Decibels aboveThreshold{};     ///< how far above its threshold the anchor's candidate lies
    bool ownDate = false;          ///< the anchor's stroke is unlike its drum's others, and is dated by itself

    bool operator==(const Hit&) const = default;
    /// Its date is only its own, and nobody has looked at it: it was neither moved nor taken in by hand.
    bool wantsLook() const { return ownDate && !added && marked == FrameCount{}; }
    /// Where it was found: the place by which corrections speak of it.
    SourceFrame found() const { return anchor - marked; }
};

/// What a threshold and the neighbours made of a candidate.
enum class Verdict { hit, below, bleed, unlike, tooNear, tooFine };
inline constexpr std::size_t verdictCount = 6;

/// What became of one candidate of a guide.
struct JudgedCandidate {
    Verdict verdict = Verdict::hit; ///< by threshold, bleed and neighbours
    MicIndex bleedFrom;             ///< the mic whose drum explains it, when it is bleed
    Decibels aboveBleed;            ///< see StrokeVerdict::aboveBleed
    Decibels above;                 ///< how far it lies above (or below) the threshold that rules there
};

} // namespace lampo
