#pragma once

#include "base/indices.h"
#include "base/range.h"
#include "base/units.h"

#include <optional>
#include <vector>

namespace lampo {

/// A stretch of the song and what sounds there, on every mic. It goes on to where the next one begins.
struct Passage {
    SongFrame begin;                              ///< from here on
    std::optional<TakeIndex> take = TakeIndex{0}; ///< index in the session; none: silence
    /// None: the take's own place in the song. Otherwise a graft: song place = source + the take's start + this.
    std::optional<FrameCount> graft{};
    bool operator==(const Passage&) const = default;
    /// Whether one goes on with the same sound as the other.
    bool sameSound(const Passage& other) const { return take == other.take && graft == other.graft; }
};

/// Where one border wants another fade than the other seams. Kept by place, so that a range swapped away and back
/// finds it again.
struct BorderFade {
    SongFrame border;  ///< where it lies
    Milliseconds fade; ///< within limits::borderFade
    bool operator==(const BorderFade&) const = default;
};

/// Which take sounds where. Passages ascend; the first begins at song zero. The last one goes on to the end of its
/// take; a silent last one marks the end of the song.
struct Comp {
    std::vector<Passage> passages{Passage{}}; ///< never empty
    std::vector<BorderFade> fades{};          ///< ascending
    bool operator==(const Comp&) const = default;

    /// Index of the passage that rules at a place (the first one rules before zero).
    std::size_t at(SongFrame place) const;
    /// None where the border has no fade of its own.
    std::optional<Milliseconds> fadeAt(SongFrame border) const;
    /// What sounds inside a range: its first passage begins at range.begin.
    std::vector<Passage> inside(Range<SongFrame> range) const;
};

/// `passages` sound inside `range` (the first begins at its begin, all inside); what lay there gives way. A range
/// to `end` or beyond replaces all that follows. Neighbours that sound the same become one.
Comp laid(const Comp& comp, Range<SongFrame> range, std::vector<Passage> passages, SongFrame end);
Comp laid(const Comp& comp, Range<SongFrame> range, std::optional<TakeIndex> take, std::optional<FrameCount> graft,
          SongFrame end);

/// A stretch of the song and where its recorded time lies: song place = source + the take's start + `moved`, for
/// every take. Bars that were inserted empty have none.
struct FormPart {
    SongFrame begin;                                 ///< from here on
    std::optional<FrameCount> moved = FrameCount{0}; ///< none: silence
    bool operator==(const FormPart&) const = default;
};

/// How the song goes through the recorded time: as recorded, until bars are inserted, repeated or deleted. Parts
/// ascend; the first begins at song zero.
using Form = std::vector<FormPart>;

/// How far recorded time is moved at a song place; none in empty bars.
std::optional<FrameCount> movedAt(const Form& form, SongFrame place);
/// The first song place of a recorded place (source + take's start); none when its bars were deleted.
std::optional<SongFrame> songPlace(const Form& form, SongFrame recorded);
/// `length` frames more at `at`: empty, or the recorded time of the stretch just before once more.
Form lengthened(const Form& form, SongFrame at, FrameCount length, bool repeat);
Form shortened(const Form& form, Range<SongFrame> cut);

/// The same for what sounds: grafts behind the place move along.
Comp lengthened(const Comp& comp, SongFrame at, FrameCount length, bool repeat);
Comp shortened(const Comp& comp, Range<SongFrame> cut);

} // namespace lampo
