#pragma once

#include "session/session.h"
#include "timing/landing.h"

#include <vector>

namespace lampo::test {

inline constexpr std::int64_t sixteenth = 6000; ///< frames at 120 BPM and 48 kHz

/// One mic, one take, 120 BPM at 48 kHz.
inline Session songOf(FrameCount length = FrameCount{48000 * 120}) {
    Session session;
    session.rate = {48000};
    session.mics = {{"kick"}};
    session.takes = {{'A', {}, {{}}, {}, length}};
    session.comp = {{Passage{SongFrame{0}, TakeIndex{0}, {}}}, {}};
    return session;
}

/// A snare stroke.
inline Hit hitAt(std::int64_t at, double level = 0) {
    return {SourceFrame{at}, SourceFrame{at}, SourceFrame{at}, MicIndex{0}, 1, Voice::snare, {level}, false};
}

inline std::vector<Landing> landed(const Session& session, const std::vector<Hit>& hits,
                                   const std::vector<SongFrame>& attacks = {}) {
    return land(session, MusicalMap(session.map, session.rate), {}, hits, attacks);
}

} // namespace lampo::test
