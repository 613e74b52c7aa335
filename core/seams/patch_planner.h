#pragma once

#include "seams/plan.h"
#include "session/session.h"

#include <functional>

namespace lampo {

/// Where the patches of a session sound.
struct PlannedPatches {
    std::vector<PlannedPatch> sounding; ///< those that are on, wherever their place sounds, by where they begin
    std::vector<std::size_t> lost;      ///< indices of those whose hit is gone
};

/// Puts each patch where the plan lets its place sound: never, once, or as often as the bar is repeated. A patch on
/// a hit keeps its length; one on a stretch begins and ends with the sound it was laid over. `hasHit`: whether a
/// hit of a take is found near a place.
PlannedPatches planPatches(const Session& session, const Plan& plan,
                           const std::function<bool(TakeIndex take, SourceFrame at)>& hasHit);

} // namespace lampo
