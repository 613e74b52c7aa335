#pragma once

#include "strokes/mean_stroke.h"

#include <cstddef>
#include <optional>
#include <span>
#include <vector>

namespace lampo {

/// Own dates that lie farther from where most lie, ms, are not the drum's scatter: dated by the mean, the stroke
/// slipped by a period of the drum's ring, or another drum was heard first.
inline constexpr double leastSlip = 2.5;
/// Where most own dates lie, by how far each lies behind that by the mean, ms; none where they do not agree or are
/// few. Reorders them.
std::optional<double> commonOwnDate(std::vector<double>& behind);

/// Moves dates by a drum's mean strokes (StrokeDate::shift; those with ownDate stay) to where the strokes' own
/// dates allow. Single strokes' own dates scatter, but where most of them agree the attack was heard by then, and
/// began no longer before than slow attacks do; before the first that some agree on there is no attack. `kindOf`:
/// for each stroke, which of the drum's means it was dated by. `soft`: strokes far below the drum's strong ones,
/// whose means are the less sharp.
void keepNearOwnDates(std::span<StrokeDate> dates, std::span<const std::size_t> kindOf, bool soft);

/// How one of these strokes is moved on the whole: by the middle of their shifts, but of those that keep their own
/// dates; not at all where none is left.
StrokeDate usualDate(std::span<const StrokeDate> dates);

} // namespace lampo
