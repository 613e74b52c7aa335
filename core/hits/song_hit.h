#pragma once

#include "hits/hit.h"
#include "session/session.h"

namespace lampo {

/// A hit of some take that sounds in the song.
struct SongHit : Hit {
    TakeIndex take;        ///< index in the session
    SourceToSong shift;    ///< where its take lies
    std::size_t piece = 0; ///< index of the piece of the song that it sounds in
    bool operator==(const SongHit&) const = default;

    /// Both are stretches of one take laid at one place, so that their source positions can be compared.
    bool besideInItsTake(const SongHit& other) const { return take == other.take && shift == other.shift; }
};

TakePlace placeOf(const Session& session, const SongHit& hit);
/// A correction that speaks of the hit; what the kind needs beside is still to be set.
Correction correctionOf(const Session& session, const SongHit& hit, Correction::Kind kind);
/// One that makes it land there.
Correction landedAt(const Session& session, const SongHit& hit, ResultFrame at);

} // namespace lampo
