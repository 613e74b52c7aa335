#pragma once

#include "strokes/drum_model.h"
#include "strokes/moments.h"

#include <functional>
#include <span>
#include <vector>

namespace lampo {

/// How one drum is heard in another mic.
struct DrumPath {
    BandEnergies gain{};             ///< power there for power in its own mic, band by band; 0: not heard
    BandEnergies shape{};            ///< power there for the whole power (in the weighted bands) in its own mic
    BandEnergies margin{5, 5, 5, 5}; ///< by what factor of power single strokes exceed that
    Milliseconds late;               ///< how much later than in its own mic; may be negative
    std::size_t strokes = 0;         ///< that were heard there
    double share = 1;                ///< of the strokes that were heard there
    double ahead = 0;      ///< share of the strokes that were heard there just before only, as no bleed is
    double steadiness = 1; ///< share of them that came within 0.6 ms of the usual time: bleed always takes as long
};

/// How much softer a strong stroke of the drum is where the path leads.
Decibels lossOf(const DrumPath& path, const DrumModel& drum);
/// dBFS of a strong stroke of the drum where the path leads, in the weighted bands of the mic there.
Decibels bleedOf(const DrumPath& path, const DrumModel& drum, const BandEnergies& weights);

/// Paths from every witness's drum to every witness, learned from the recording itself.
class Paths {
public:
    Paths() = default;
    /// None known yet.
    explicit Paths(std::size_t witnesses) : size_(witnesses), paths_(witnesses * witnesses) {}

    /// How a drum is heard by a witness; indices among the witnesses.
    DrumPath& at(std::size_t drum, std::size_t witness) { return paths_[drum * size_ + witness]; }
    /// How a drum is heard by a witness; indices among the witnesses.
    const DrumPath& at(std::size_t drum, std::size_t witness) const { return paths_[drum * size_ + witness]; }
    /// How many witnesses there are.
    std::size_t size() const { return size_; }

    /// How a learned path is told from everything else that a mic hears.
    struct Learning {
        double earliest = 2; ///< ms before a stroke's date that it may arrive elsewhere
        double share = 0.15; ///< of the strokes that may lie below the path
    };
    /// The paths of one drum, from events that are its strokes, or may be. A mic hears at least a drum's bleed,
    /// whatever else it hears: so the path is what nearly all of the strokes are louder than. `isCause(other,
    /// stroke)` tells that the other event is rather the cause of the first; such pairs are left out.
    void learn(const Moments& moments, std::span<const std::size_t> strokes, const Learning& how,
               const std::function<bool(const Event&, const Event&)>& isCause);

private:
    std::size_t size_ = 0;
    std::vector<DrumPath> paths_;
};

} // namespace lampo
