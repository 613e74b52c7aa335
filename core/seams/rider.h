#pragma once

#include "seams/free_stretches.h"
#include "seams/slice.h"

#include <optional>
#include <span>

namespace lampo {

/// Where strokes between two slices leave no room for a seam, the one with most room around it goes in between as a
/// slice of its own, moved in proportion: it sounds once, and both seams become easier. None where there is none
/// with room on both sides. `strokes`: of the take, ascending.
std::optional<Slice> riderBetween(const Slice& a, const Slice& b, std::span<const SourceFrame> strokes,
                                  const SeamMeasures& measures);

} // namespace lampo
