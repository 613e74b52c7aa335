#pragma once

#include "session/session.h"

namespace lampo {

/// A stretch of the song that is one stretch of one take: what is left of a passage once the form is laid under it.
struct Piece {
    Range<SongFrame> range;        ///< of the song
    std::optional<TakeIndex> take; ///< none: silence
    SourceToSong shift;            ///< where the take lies there
    std::size_t passage = 0;       ///< index in Session::comp
    bool operator==(const Piece&) const = default;

    /// Where in the take's files a place of the piece comes from.
    SourceFrame sourceAt(SongFrame place) const { return place - shift; }
};

/// The song from zero to its end, without gaps; empty without a take. Neighbours differ in take or shift. Pure.
std::vector<Piece> piecesOf(const Session& session);

/// The piece at a place; none outside the song.
std::optional<Piece> pieceAt(const Session& session, SongFrame place);

/// Where a take lies in the song when it sounds at `place` in its own place; none in empty bars.
std::optional<SourceToSong> ownShift(const Session& session, TakeIndex take, SongFrame place);

} // namespace lampo
