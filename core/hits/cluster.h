#pragma once

#include "hits/hit.h"
#include "session/session.h"

#include <span>
#include <vector>

namespace lampo {

/// One attack of one guide that passed threshold, bleed and gap, or that the user added.
struct Attack {
    SourceFrame at;                ///< where it begins, in its drum's mic
    SourceFrame grace;             ///< start of a soft stroke just before it that belongs to it; otherwise `at`
    std::optional<MicIndex> mic{}; ///< none: no guide heard it
    Decibels level;                ///< against the mic's typical strong hit
    Decibels aboveThreshold;       ///< above the threshold
    std::size_t candidate = 0;     ///< among its mic's; meaningless for an added one without
    Voice voice = Voice::other;    ///< the drum that struck
    bool added = false;            ///< by the user
    bool ownDate = false;          ///< see StrokeVerdict::ownDate

    /// The lower leads where ranks decide; what no guide heard comes last.
    std::size_t rank() const { return mic.value_or(MicIndex{limits::mics}); }
};

/// Attacks of different guides that are one moment.
struct Cluster {
    std::vector<Attack> attacks; ///< in order of time; empty for a bare cut
    Hit hit;                     ///< that the cluster is

    /// The hit as its attacks make it. `anchor` says which of them lands; ranks are the mics' indices.
    static Cluster of(std::vector<Attack> attacks, Anchor anchor);
    /// A cut without an attack.
    static Cluster bareCut(SourceFrame at);
    /// Makes `mic`'s attack the anchor; false when it has none here.
    bool anchorAt(MicIndex mic);
};

/// A cluster opens with its earliest attack and takes each guide once within `window`. `attacks` ascend.
std::vector<Cluster> joinClusters(std::span<const Attack> attacks, FrameCount window, Anchor anchor);

/// Obeys the corrections of one take, in the order existence, cluster, anchor, start, drum; additions were obeyed
/// when the attacks were collected. Returns those that find no hit.
std::vector<Correction> obeyCorrections(const Session& session, TakeLetter take, std::vector<Cluster>& clusters);

} // namespace lampo
