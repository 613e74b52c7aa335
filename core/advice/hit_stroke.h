#pragma once

#include "advice/patch_mics.h"
#include "pipeline/hit_strokes.h"

#include <string>
#include <vector>

namespace lampo {

/// The stroke that a chosen hit's anchor is. Errors: badValue where there is none.
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
