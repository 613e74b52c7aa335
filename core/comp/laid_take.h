#pragma once

#include "hits/hit.h"
#include "session/pieces.h"
#include "timing/landing.h"

#include <span>

namespace lampo {

/// Which take is to be laid where, and for which stretch of the song.
struct LayOrder {
    Placed where;           ///< which take, and where it lies
    Range<SongFrame> cover; ///< see coverOf()
    bool operator==(const LayOrder&) const = default;
};

/// A take laid somewhere in the song, and where its hits would land if it sounded there.
struct LaidTake {
    Placed where;                  ///< which take, and where it lies
    Range<SongFrame> cover;        ///< the stretch of the song it was laid for; hits a little outside are there too
    std::vector<Hit> hits;         ///< in order of time
    std::vector<Landing> landings; ///< one for each hit

    /// How far the slice of a hit is moved from its source.
    SourceToResult shiftOf(std::size_t hit) const { return asResult(where.shift) + landings[hit].move(); }
};

/// `hits` are all of the take's. Those in its cover and two bars around it are landed, so that the path to the
/// lines has found its way before the first one counts. `attacks`: see land(). Pure.
LaidTake layTake(const Session& session, const MusicalMap& map, const LayOrder& order, std::span<const Hit> hits,
                 std::span<const SongFrame> attacks = {});

/// The stretch to lay a take for so that every piece of it in its own place can be chosen from: that of the whole
/// form part, so that it does not depend on the comp. For a graft it is the piece itself.
Range<SongFrame> coverOf(const Session& session, const Piece& piece);

} // namespace lampo
