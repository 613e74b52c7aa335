#pragma once

#include "strokes/drum_model.h"
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

/// What each candidate of each witness is, by rules (strokesByRules) and, where these are in doubt, by all that
/// speaks for and against it (reviseStrokes). Pure; about a tenth of a second for ten minutes.
StrokeAssignment assignStrokes(std::span<const Witness> witnesses, SampleRate rate);

} // namespace lampo
