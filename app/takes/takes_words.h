#pragma once

#include "session/pieces.h"
#include "takes/takes_state.h"

#include <QString>

namespace lampo {

/// "bar 12", "bar 12 beat 3.5".
QString placeWords(const Session& session, SongFrame at);
/// "bars 9 to 12", "bar 9", "bar 9.3 to 10.2".
QString rangeWords(const Session& session, Range<SongFrame> range);
/// "B from bar 12".
QString graftWords(const Session& session, const Piece& piece);
/// Where what sounds at a place comes from: the take, the bar it was played in, and the time in its files.
QString sourceWords(const Session& session, SongFrame at);
/// How a take played a bar, for a row of the strip.
QString measureWords(const BarMeasure& measure);
/// Said where nothing can be done because a passage is silent.
QString noTakeSounds();

} // namespace lampo
