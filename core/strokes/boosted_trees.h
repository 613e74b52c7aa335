#pragma once

#include "strokes/stroke_features.h"

namespace lampo {

/// How likely an event is a stroke of its mic's drum, 0 to 1: boosted trees (Friedman, "Greedy function
/// approximation: a gradient boosting machine", 2001) of at most eight leaves, trained by bench/train_trees.py.
double strokeProbability(const StrokeFeatures& features);

} // namespace lampo
