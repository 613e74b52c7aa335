#pragma once

#include "strokes/paths.h"
#include "strokes/witness.h"

#include <span>
#include <vector>

namespace lampo {

/// Who struck, at every moment of a take.
struct StrokeAssignment {
    std::vector<DrumModel> drums;                     ///< one for each witness
    Paths paths;                                      ///< between witnesses
    std::vector<std::vector<StrokeVerdict>> verdicts; ///< for each witness, one for each candidate
};

/// The fewest strokes that explain what every witness heard, how loud, how late and in which bands. Which mic hears
/// a stroke first and loudest says whose it may be; from such strokes the paths are learned, from the paths the
/// strokes assigned anew, in turn. A mic whose loudest events other drums explain stands at a drum that is not
/// heard, and explains nothing. Pure; some tens of milliseconds for a song.
StrokeAssignment assignStrokes(std::span<const Witness> witnesses, SampleRate rate);

} // namespace lampo
