#pragma once

#include "strokes/strokes_so_far.h"

#include <vector>

namespace lampo {

/// For each witness, how surely its strong strokes are as loud as what leads them makes them, as bleed is; drums
/// that are struck together are each as loud as they are struck. The correlation of their levels, dB, with those of
/// the loudest event of another close mic that leads each, about the mean of each such mic, less what chance may
/// make of it (1.5 / sqrt n, one and a half standard errors of no correlation); 0 to 1, 0 too where nothing leads
/// them. Levels that hardly differ follow: a drum that never leads is rather silent, and they tell nothing else.
std::vector<double> leaderCorrelations(const StrokesSoFar& known);

} // namespace lampo
