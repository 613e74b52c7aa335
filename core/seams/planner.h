#pragma once

#include "comp/choice.h"
#include "seams/plan.h"

namespace lampo {

/// Joins the slices. Each hit's slice begins its lead-in before the earliest attack of the hit; what lies before
/// the first slice and behind the last stays in place. Between two slices the seam lies where it neither repeats
/// nor cuts an attack: after the earlier hit's attacks (keptAfter) and before the later one's (keptBefore), counted
/// in both slices, as late as the lead-in allows. Within these stretches and outside seams the result is the
/// source, shifted. Lead-in and fade give way where hits are dense. Between takes the seams lie where the choice
/// put them.
///
/// The landings are separable as land() leaves them. Pure; linear in the hits.
Plan planSlices(const Session& session, const Choice& choice);

} // namespace lampo
