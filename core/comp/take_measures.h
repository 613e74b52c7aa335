#pragma once

#include "comp/laid_take.h"

#include <memory>

namespace lampo {

/// How one take played one bar. Deviations are against the lines its strokes mean; early is negative.
struct BarMeasure {
    std::size_t strokes = 0; ///< that mean a line in the bar
    Milliseconds mean;       ///< of the deviations from the lines; late is positive
    Milliseconds spread;     ///< standard deviation around the mean
    Milliseconds worst;      ///< the largest deviation, with its sign
    /// Root mean square of the change from stroke to stroke, over the square root of 2: how steady, whatever the
    /// drift (von Neumann's mean square successive difference, from memory).
    Milliseconds unsteady;
    Decibels uneven; ///< root mean square of the difference from the takes' median level, stroke by stroke
    int missing = 0; ///< strokes that most of the other takes have here, or only a shadow of one
    int extra = 0;   ///< strong strokes that no other take has
    int clashes = 0; ///< strong strokes between the lines

    /// A stroke is lost, or something sounds that should not, and it lies out of place.
    bool spoiled() const;
    /// The lower the better; what timing work cannot mend weighs most. Common practice, no source.
    double cost() const;
};

/// Takes x bars.
struct TakeMeasures {
    int firstBar = 1;                           ///< the first bar that was measured
    std::vector<std::vector<BarMeasure>> takes; ///< per take, per bar from firstBar

    /// Null outside.
    const BarMeasure* of(TakeIndex take, int bar) const;
    /// Bars first to last together, each by its strokes; clashes are counted as extra strokes.
    BarMeasure over(TakeIndex take, int first, int last) const;
    /// The bar behind the last that was measured.
    int endBar() const { return takes.empty() ? firstBar : firstBar + static_cast<int>(takes.front().size()); }
};

/// `ownLays[take]` are the take's lays in its own places, one for each part of the form. Pure; linear in hits.
TakeMeasures measureTakes(const Session& session, const MusicalMap& map,
                          std::span<const std::vector<std::shared_ptr<const LaidTake>>> ownLays);

/// The comp that costs least: bars of the takes that played them best, changing between takes only where that
/// gains more than it may disturb. A starting point. Bars that no take plays stay as they are.
std::vector<Passage> suggestedComp(const Session& session, const MusicalMap& map, const TakeMeasures& measures);

/// Each rated bar from its best rated take (of equals, the one that sounds there); bars without ratings stay.
std::vector<Passage> ratedComp(const Session& session, const MusicalMap& map);

} // namespace lampo
