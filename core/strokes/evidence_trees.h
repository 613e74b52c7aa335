#pragma once

#include "strokes/stroke_evidence.h"

namespace lampo {

/// How likely an event is a stroke of its mic's drum, 0 to 1: boosted trees (Friedman, "Greedy function
/// approximation: a gradient boosting machine", 2001) of at most eight leaves, grown by bench/grow_trees.py.
double likelihoodOf(const Evidence& evidence);

} // namespace lampo
