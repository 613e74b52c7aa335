#pragma once

#include "base/indices.h"
#include "onsets/candidate.h"

#include <cstddef>
#include <vector>

namespace lampo {

/// Of metal, which has hardly any power below 700 Hz.
inline constexpr Decibels noBody{-100};

/// A mic that bears witness to who struck.
struct Witness {
    /// Where its mic stands.
    enum class Place {
        drum,    ///< near one drum: it is the first to hear its strokes, and hears them best
        overhead ///< above the kit: it tells of what has no mic of its own
    };
    MicIndex mic;                          ///< of the session
    const MicAnalysis* analysis = nullptr; ///< what was heard there
    BandEnergies weights{1, 1, 1, 1};      ///< the bands in which its drum tells itself apart, amplitudes
    Place place = Place::drum;             ///< where it stands
    /// A stroke of its drum has at least this much more power below 700 Hz than above; what has less is another's.
    Decibels body = noBody;
    /// Prior log odds (natural) that its drum is struck at all in a take, above those of an average drum.
    double priorLogOdds = 0;

    /// Few takes are without its drum, and to miss it is dear.
    bool isExpected() const { return priorLogOdds > 0; }
};

/// What one candidate is.
struct StrokeVerdict {
    /// What it may be.
    enum class Kind {
        stroke, ///< of the mic's own drum
        bleed,  ///< other drums' strokes explain it
        unlike, ///< nothing explains it, but it is not like its drum: a ring that swells, a rustle
    };
    Kind kind = Kind::stroke; ///< what it is
    MicIndex explainedBy;     ///< the mic whose drum explains it best; its own for a stroke
    Decibels level{-200}; ///< of a stroke: what of it is the drum's own; else of the whole; against strong strokes
    /// How far it lies above (positive) or below what explains it. Of a stroke: above what other drums explain, at
    /// most 60 dB.
    Decibels aboveBleed;
    bool ownDate = false; ///< a stroke unlike its drum's others: dated by itself, not by their mean
    bool operator==(const StrokeVerdict&) const = default;
};

} // namespace lampo
