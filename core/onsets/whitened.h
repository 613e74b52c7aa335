#pragma once

#include "base/units.h"
#include "signal/linear_prediction.h"

#include <span>
#include <vector>

namespace lampo {

/// A template, which is what is compared of a stroke: from so long before it begins, and of that length.
inline constexpr Milliseconds templateBefore{1}, templateLength{20};

/// A sound at the low rate as strokes are compared: what goes on between them, which `between` has learned, is
/// white there, and what turns by much within half a sample, by which two strokes may lie beside each other, is
/// softer. The first LinearPredictor::order samples mean nothing.
std::vector<float> whitened(const LinearPredictor& between, std::span<const float> sound);

} // namespace lampo
