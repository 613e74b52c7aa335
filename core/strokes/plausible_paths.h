#pragma once

#include "strokes/heard_alone.h"
#include "strokes/paths.h"

#include <span>
#include <vector>

namespace lampo {

/// dB that what overheads tell of is softer in a close mic than the loudest there.
inline constexpr double overheadLoss = 8;

/// How loud a witness's loudest events are, dBFS in its weighted bands, whatever they are; and what an overhead is
/// to be raised by before its levels are compared with close mics'.
struct WitnessLevel {
    double loudest = -200; ///< dBFS
    double trim = 0;       ///< dB
};

/// Weakens paths that would explain what they cannot, and drops those that no room has: a drum much louder in
/// another mic than in its own, or two drums that each seem to be heard in the other's mic with hardly a loss,
/// whatever the preamplifiers. Bleed comes each time, takes as long, and sounds like its drum; a path that would
/// explain the loudest events of a mic and does not is two drums that are often struck together. It comes behind
/// its stroke: what seems to arrive before is asked to come still more surely. So is a path that would explain what
/// the mic hears just so when that drum is silent: `alone`, witnesses x witnesses, drum by drum.
void keepPlausible(Paths& paths, std::span<const Witness> witnesses, std::span<const DrumModel> drums,
                   std::span<const WitnessLevel> levels, std::span<const HeardAlone> alone);

} // namespace lampo
