#pragma once

#include "advice/hit_stroke.h"
#include "edits/edit.h"

#include <map>
#include <span>

namespace lampo {

/// dB of the gains that lie on a hit and on all of its own drum's mics.
double patchedGain(const Session& session, const SongHit& hit);

/// What each chosen stroke of a drum with a mic would be levelled to, dB against the drum's strong strokes: the
/// median of those of its drum and sort. Where levels leave a gap of 6 dB, a sort ends: ghost notes say nothing
/// about backbeats.
std::map<HitIndex, double> levelTargets(const Session& session, const Outcome& outcome,
                                        std::span<const HitIndex> chosen);

/// Gains for the strokes of the chosen hits: per cent of the way from each one's level to that of levelTargets(),
/// or to `target`. Those that have such a gain already get this one instead; strokes that would not change are left
/// out. Errors: badValue where nothing is left.
Expected<AddPatches> levelled(const Session& session, const Outcome& outcome, std::span<const HitIndex> chosen,
                              double percent, std::optional<Decibels> target = std::nullopt,
                              const PatchMics& mics = {});

/// The slices of the chosen hits so much louder than they are. Errors: badValue where none has such mics.
Expected<AddPatches> louder(const Session& session, const Outcome& outcome, std::span<const HitIndex> chosen,
                            Decibels by, const PatchMics& mics = {});

/// The other drums of one shared hit moved to its anchor, each on its own mics. Errors: badValue where none was
/// struck apart from it.
Expected<AddPatches> broughtTogether(const Session& session, const Outcome& outcome, HitIndex hit);

} // namespace lampo
