#pragma once

#include "edits/edit.h"
#include "pipeline/outcome.h"

#include <span>

namespace lampo {

/// The mics of one drum, by what a stroke was found in: those of its group; of kick and snare all that stand at it.
std::vector<std::string> micsOfDrum(const Session& session, MicIndex mic);

/// A stroke that could stand for another one.
struct Donor {
    TakePlace at;        ///< its start
    Decibels level;      ///< against a strong stroke of its drum
    double offLevel = 0; ///< dB from that of the strokes around the one it stands for
    FrameCount alone{};  ///< how far the nearest stroke of any other drum lies
    double unlike = 0;   ///< the less, the better: see donorsFor()
};

/// Strokes of the same drum in all takes that would stand for the chosen hit, the best first: as loud as the drum's
/// strokes of its sort around it (their median), with no other drum within 60 ms, and dated by their mean. Errors:
/// badValue where the hit has no drum with a mic.
Expected<std::vector<Donor>> donorsFor(const Session& session, const Outcome& outcome, HitIndex hit);
/// The chosen hit's drum replaced by a donor on its own mics, from the lead-in to the next hit, at the level of the
/// strokes around it. Errors: those of donorsFor().
Expected<Patch> replacement(const Session& session, const Outcome& outcome, HitIndex hit, const Donor& donor);

/// Gains for the drums of the chosen hits, each on its own mics: per cent of the way from each stroke's level to
/// the median of them, or to `target`. Strokes that would not change are left out. Errors: badValue where nothing
/// is left.
Expected<AddPatches> levelled(const Session& session, const Outcome& outcome, std::span<const HitIndex> chosen,
                              double percent, std::optional<Decibels> target = std::nullopt);

/// The drums of the chosen hits so much louder, each on its own mics. Errors: those of levelled().
Expected<AddPatches> louder(const Session& session, const Outcome& outcome, std::span<const HitIndex> chosen,
                            Decibels by);

/// The other drums of one shared hit moved to its anchor, each on its own mics. Errors: badValue where none was
/// struck apart from it.
Expected<AddPatches> broughtTogether(const Session& session, const Outcome& outcome, HitIndex hit);

/// The mics of toms silent in a take wherever no stroke of theirs rings: from a second behind one to 20 ms before
/// the next. Errors: badValue where there is no tom mic.
Expected<AddPatches> tomsSilenced(const Session& session, const Outcome& outcome, TakeIndex take);

} // namespace lampo
