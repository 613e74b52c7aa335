#pragma once

#include "pipeline/outcome.h"

#include <vector>

namespace lampo {

/// The strokes of one take, in order of time.
const std::vector<Stroke>& strokesOf(const Outcome& outcome, TakeIndex take);
/// The stroke that a hit's anchor is; null where no mic's drum was found to have struck it.
const Stroke* strokeOf(const Outcome& outcome, const SongHit& hit);
/// The drum that was struck is the one that the hit's mic stands at.
bool isOfItsMic(const Session& session, const SongHit& hit);
/// The first stroke of a mic's drum among those that a hit is made of; null where there is none.
const Stroke* strokeOf(const Outcome& outcome, const SongHit& hit, MicIndex mic);

} // namespace lampo
