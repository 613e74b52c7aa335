#include "hits/song_hit.h"

namespace lampo {

TakePlace placeOf(const Session& session, const SongHit& hit) {
    return {session.takes[hit.take].letter, hit.found()};
}

Correction correctionOf(const Session& session, const SongHit& hit, Correction::Kind kind) {
    return {kind, session.takes[hit.take].letter, hit.found()};
}

Correction landedAt(const Session& session, const SongHit& hit, ResultFrame at) {
    Correction correction = correctionOf(session, hit, Correction::Kind::place);
    correction.moved = at - asResult(hit.found() + hit.shift);
    return correction;
}

} // namespace lampo
