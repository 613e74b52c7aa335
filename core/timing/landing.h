#pragma once

#include "hits/hit.h"
#include "session/session.h"
#include "timing/target_lines.h"

#include <optional>
#include <span>
#include <string_view>

namespace lampo {

enum class LandingState {
    landed,   ///< on its line, or as near as the strength brings it
    left,     ///< between lines: moves in proportion with its neighbours
    pinned,   ///< where the user put it
    doubtful, ///< landed, but it may mean another line
    beyond,   ///< its line lies beyond the reach, so it stays as played
};
std::string_view name(LandingState state);

/// Where the anchor of a hit ends up.
struct Landing {
    SongFrame played; ///< by the take
    SongFrame meant;  ///< its line; between lines, the place among its neighbours' lines that it was played at
    ResultFrame at;   ///< where it sounds
    std::optional<TargetLine> line;            ///< the line it means
    LandingState state = LandingState::landed; ///< what became of it
    double confidence = 0;                     ///< of the line, see Assignment::confidence
    FrameCount shoved{};                       ///< moved by hand before it was quantized
    FrameCount slipped{};                      ///< and after it landed; part of `at`
    bool heldTogether = false;                 ///< too near its neighbour to be cut from it: both move as one

    /// How far it is moved; later is positive.
    FrameCount move() const { return at - asResult(played); }
};

/// How close two attacks may lie and still be cut apart: see seams/plan.h, which needs these stretches whole.
inline constexpr Milliseconds keptBefore{1}; ///< before each attack the source sounds unbroken
inline constexpr Milliseconds keptAfter{15}; ///< and after it
inline constexpr Milliseconds shortestFade{1};

/// A take laid somewhere in the song.
struct Placed {
    TakeIndex take;     ///< index in the session
    SourceToSong shift; ///< where it lies
    auto operator<=>(const Placed&) const = default;
};

/// The landings of hits of one take, one for each, in the same order and never crossing. All lines come from the
/// session's map, sections and grid; strength s leaves (1 − s) of each deviation. `attacks` are those of the
/// companion to land on, in the song. Pure.
std::vector<Landing> land(const Session& session, const MusicalMap& map, const Placed& where,
                          std::span<const Hit> hits, std::span<const SongFrame> attacks = {});

} // namespace lampo
