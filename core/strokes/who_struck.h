#pragma once

#include "strokes/paths.h"
#include "strokes/witness.h"

#include <span>
#include <vector>

namespace lampo {

/// What is known of the drum that a witness stands at.
struct KnownDrum {
    bool asked = false;     ///< its mic bears witness
    bool heard = false;     ///< it is struck in this take, as far as anyone can hear
    Decibels strong{-200};  ///< a typical strong stroke in its own mic's weighted bands, dBFS
    BandEnergies profile{}; ///< how a strong stroke's power lies in the bands; its weighted sum is 1
    std::size_t strokes = 0;
};

/// Who struck, at every moment of a take.
struct WhoStruck {
    std::vector<KnownDrum> drums;        ///< one for each witness
    Paths paths;                         ///< between witnesses
    std::vector<std::vector<Told>> told; ///< for each witness, one for each candidate
};

/// How much softer a strong stroke of the drum is where the path leads.
Decibels lossOf(const DrumPath& path, const KnownDrum& drum);

/// The fewest strokes that explain what every witness heard, how loud, how late and in which bands. Which mic hears
/// a stroke first and loudest says whose it may be; from such strokes the paths are learned, from the paths the
/// strokes told apart anew, in turn. A mic whose loudest events other drums explain stands at a drum that is not
/// heard, and explains nothing. Pure; some tens of milliseconds for a song.
WhoStruck tellWhoStruck(std::span<const Witness> witnesses, SampleRate rate);

} // namespace lampo
