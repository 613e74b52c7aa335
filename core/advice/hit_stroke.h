#pragma once

#include "advice/patch_mics.h"
#include "pipeline/outcome.h"

#include <string>
#include <vector>

namespace lampo {

/// The strokes of one take, in order of time.
const std::vector<Stroke>& strokesOf(const Outcome& outcome, TakeIndex take);
/// The stroke that a hit's anchor is; null where no mic's drum was found to have struck it.
const Stroke* strokeOf(const Outcome& outcome, const SongHit& hit);
/// The same for a chosen hit. Errors: badValue where there is none.
Expected<const Stroke*> chosenStroke(const Outcome& outcome, HitIndex hit);

/// The slice of a hit: from its lead-in to that of the next hit, at most a second, on these mics. What
/// is done there is still to be said.
Patch overSlice(const Session& session, const Outcome& outcome, HitIndex hit, PatchKind kind,
                std::vector<std::string> mics);

/// Whether a patch stands and falls with this hit.
bool liesOn(const Session& session, const Patch& patch, const SongHit& hit);

/// Index in Session::patches of the one of this kind that lies on the hit and just these mics.
std::optional<std::size_t> patchOn(const Session& session, const SongHit& hit, PatchKind kind,
                                   const std::vector<std::string>& mics);

} // namespace lampo
