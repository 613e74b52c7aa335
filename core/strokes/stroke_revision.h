#pragma once

#include "strokes/strokes_so_far.h"

namespace lampo {

/// An event that may be revised: of a shell that is played more than now and then, and not too soft.
bool canBeRevised(const StrokesSoFar& known, std::size_t event);

/// Looks at every event of a shell's mic once more, when all strokes are known, by trees that were trained on kits
/// drawn at random (bench/features.cpp, bench/train_trees.py): a stroke by the rules stays unless it is hardly
/// probable, what they refused becomes one where it is more probable than not. A single mic has nobody to be
/// compared with, and stays as it is.
void reviseStrokes(StrokesSoFar& known);

} // namespace lampo
