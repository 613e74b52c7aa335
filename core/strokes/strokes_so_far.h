#pragma once

#include "strokes/paths.h"
#include "strokes/plausible_paths.h"
#include "strokes/witness.h"

#include <span>
#include <vector>

namespace lampo {

/// dB under a strong stroke of the drum: what is softer is nothing.
inline constexpr double softestStroke = 45;

/// ms within which one stroke may be what two mics hear.
inline constexpr double sameMoment = 5;

/// Of two mics that hear one stroke, the one that hears it so many dB louder and so many ms earlier (or the
/// contrary, below 0) stands nearer to the drum.
bool isNearer(double louder, double earlier);

/// What is known while strokes are assigned: the events, those of them that are strokes, the drums as those strokes
/// show them, and how the drums are heard in each other's mics.
struct StrokesSoFar {
    std::span<const Witness> witnesses; ///< who heard
    Moments moments;                    ///< what they heard, and whether it is their drum's
    std::vector<DrumModel> drums;       ///< one for each witness
    std::vector<double> bodyDeficit;    ///< for each witness, dB of body that what is taken for its strokes lacks
    std::vector<WitnessLevel> levels;   ///< one for each witness
    Paths paths;                        ///< between witnesses
    std::vector<bool> idle; ///< of each witness, whether its drum is hardly struck: what others lead is not its own

    /// It stands above the kit.
    bool isOverhead(std::size_t witness) const { return witnesses[witness].place == Witness::Place::overhead; }
    /// dB of the part of an event that is its own drum's, in the witness's weighted bands.
    double ownLevelOf(const Event& event) const;
    /// As loud as the drum's strong strokes.
    bool isStrong(const Event& event) const;
    /// The other is louder, or earlier, by so much that it is rather the cause.
    bool isCause(const Event& other, const Event& event) const;
};

/// What the strokes say of their drums: `drums` and `bodyDeficit`.
void measureDrums(StrokesSoFar& known);

/// What the other drums' strokes make an event's mic hear, band by band.
struct Explanation {
    BandEnergies middle{}; ///< power, as usual
    BandEnergies most{};   ///< power, with the paths' margins
    double behind = 0;     ///< ms that the event comes later than the stroke that explains most usually sounds here
    std::size_t by = 0;    ///< the witness whose drum explains most; the event's own when nothing does
};
/// By the strokes so far.
Explanation explain(const StrokesSoFar& known, std::size_t event);

/// How much of an event is left for its own drum.
struct Remainder {
    BandEnergies rest{}; ///< power in the bands that nothing explains whole
    double free = 0;     ///< of the drum's profile, the share in such bands
    double level = -200; ///< dB of the rest, in the weighted bands, as far as its drum can have made it
    double above = 0;    ///< dB of the event above what is explained
    double foreign = 0;  ///< dB of the rest above what its drum can have made
};
/// What an explanation leaves.
Remainder remainderOf(const StrokesSoFar& known, std::size_t event, const Explanation& explanation);

} // namespace lampo
