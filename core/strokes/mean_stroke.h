#pragma once

#include "onsets/candidate.h"

#include <optional>
#include <span>
#include <vector>

namespace lampo {

/// When one stroke began, by its drum's mean stroke.
struct StrokeDate {
    Milliseconds shift;  ///< from the candidate to the true start
    double likeness = 0; ///< with the drum's mean stroke of its kind, 0 to 1
    /// It keeps its own date: below leastLikeness; with a mean whose start cannot be seen; with a mean of few
    /// strokes that lies far from where it was heard; or alone of its kind and unlike the drum's usual strokes even
    /// in how its loudness goes.
    bool ownDate = false;
};
inline constexpr double leastLikeness = 0.5;

/// Dates a drum's strokes at the same place of each. Strokes that are alike are lined up with each other
/// (normalised cross-correlation of the pre-emphasised sound, to a fraction of a sample) and averaged, which takes
/// out the noise and what other drums did near each of them; where their mean begins, each of them began, though
/// not far from where single strokes were first heard (own_dates.h). Soft strokes that are like loud ones begin at
/// the same place of the sound. `strokes` are indices into the mic's candidates, `levels` what they have against
/// the drum's strong ones. One date for each; none when no sounds were kept. Pure; about a millisecond for a
/// hundred strokes.
std::vector<StrokeDate> dateStrokes(const MicAnalysis& mic, std::span<const std::size_t> strokes,
                                    std::span<const Decibels> levels, SampleRate rate);

} // namespace lampo
