#pragma once

#include "comp/choice.h"
#include "seams/free_stretches.h"
#include "seams/plan.h"

#include <span>

namespace lampo {

/// Joins the slices. Each hit's slice begins its lead-in before the earliest attack of the hit; what lies before
/// the first slice and behind the last stays in place. Between two slices the seam lies where it neither repeats
/// nor cuts an attack: after the earlier hit's attacks (keptAfter) and before the later one's (keptBefore), counted
/// in both slices, as late as the lead-in allows. Within these stretches and outside seams the result is the
/// source, shifted. Lead-in and fade give way where hits are dense. Between takes the seams lie where the choice
/// put them. Strokes that lead nothing (hats, cymbals, ghost notes under the threshold) are neither cut nor doubled
/// where there is a place without.
///
/// Where `answers` know a better place for a seam, it lies there; what they do not know is in Plan::open. `sounds`:
/// one for each take, or none. What the user said about a seam is obeyed as far as both hits' attacks stay whole.
///
/// The landings are separable as land() leaves them. Pure; linear in the hits.
Plan planSlices(const Session& session, const Choice& choice, std::span<const TakeSound> sounds = {},
                const SeamAnswers& answers = {});

} // namespace lampo
