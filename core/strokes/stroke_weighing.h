#pragma once

#include "strokes/strokes_so_far.h"

namespace lampo {

/// An event that evidence is weighed of: of a shell that is played, and not too soft.
bool canBeWeighed(const StrokesSoFar& known, std::size_t event);

/// Looks at every event of a shell's mic once more, when all strokes are known: where the evidence, weighed by
/// trees that were grown on kits drawn at random (bench/evidence.cpp, bench/grow_trees.py), speaks clearly against
/// what the rules made of it, that is turned round. A single mic has no one to be compared with, and stays as it
/// is.
void weighStrokes(StrokesSoFar& known);

} // namespace lampo
