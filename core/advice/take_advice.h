#pragma once

#include "comp/take_measures.h"
#include "edits/edit.h"
#include "pipeline/outcome.h"

namespace lampo {

/// What helps to choose among takes.

/// How every take played every bar.
TakeMeasures measureTakes(const Session& session, const Outcome& outcome);
/// The edits; see comp/take_measures.h.
Edit suggestedCompEdit(const Session& session, const TakeMeasures& measures);
Edit ratedCompEdit(const Session& session);

/// The edit that makes a take begin where its strokes fall together with another's. Errors: badValue when the two
/// play nothing alike.
Expected<Edit> alignTakesEdit(const Session& session, const Outcome& outcome, TakeIndex take, TakeIndex with);

/// What is grafted.
struct GraftSource {
    TakeIndex take;        ///< that it is of
    Range<SongFrame> from; ///< song places where it lies in its own place
};

/// The edit that puts it at `to`. The bars keep their
/// number where the map is another there; its own hits line it up with the grid, unless `exactly`. Errors: badValue
/// in empty bars.
Expected<Edit> graftEdit(const Session& session, const Outcome& outcome, const GraftSource& source, SongFrame to,
                         bool exactly = false);

/// A stroke on a cymbal or hat near a border, in front of which it would be hidden best.
struct BorderAdvice {
    Decibels ring{-200};             ///< how loud the cymbal mics still are there, against their loudest stroke
    bool ringsAcross = false;        ///< so loud that a usual fade may be heard
    Milliseconds fade;               ///< the fade to use instead when it rings
    std::optional<SongFrame> before; ///< a better border: just before the nearest strong cymbal stroke
};

/// Listens to the overheads, cymbal and hat mics (to all, where there are none) on both sides of a border. Reads a
/// fraction of a second. Errors: those of AudioReader; badValue for a passage that has no border.
Expected<BorderAdvice> adviseOnBorder(const Session& session, const Outcome& outcome, std::size_t passage);

} // namespace lampo
