#pragma once

#include "strokes/strokes_so_far.h"

#include <span>

namespace lampo {

/// The fewest strokes that explain what every witness heard, how loud, how late and in which bands. Which mic hears
/// a stroke first and loudest says whose it may be; from such strokes the paths are learned, from the paths the
/// strokes assigned anew, in turn. A mic whose loudest events other drums explain stands at a drum that is not
/// heard, and explains nothing. Pure; some tens of milliseconds for a song. The witnesses must outlive what is
/// found.
StrokesSoFar strokesByRules(std::span<const Witness> witnesses, SampleRate rate);

} // namespace lampo
