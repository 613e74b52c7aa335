#pragma once

#include <cmath>
#include <compare>
#include <cstdint>

namespace lampo {

/// A number of frames: one frame is one sample of every channel. May be negative (a move to the left).
struct FrameCount {
    std::int64_t frames = 0; ///< may be negative

    constexpr FrameCount() = default;
    /// So many. A bare number does not become one by itself.
    constexpr explicit FrameCount(std::int64_t count) : frames(count) {}
    auto operator<=>(const FrameCount&) const = default;
    /// The same to the other side.
    constexpr FrameCount operator-() const { return FrameCount{-frames}; }
    /// Both one behind the other.
    constexpr FrameCount operator+(FrameCount other) const { return FrameCount{frames + other.frames}; }
    /// What one is longer than the other.
    constexpr FrameCount operator-(FrameCount other) const { return FrameCount{frames - other.frames}; }
};

/// Without its sign.
constexpr FrameCount abs(FrameCount count) {
    return count.frames < 0 ? -count : count;
}
/// How many times `whole`, which is not 0, goes into it.
constexpr double ratio(FrameCount part, FrameCount whole) {
    return static_cast<double>(part.frames) / static_cast<double>(whole.frames);
}
/// To the nearest frame.
inline FrameCount scaled(FrameCount count, double factor) {
    return FrameCount{std::llround(static_cast<double>(count.frames) * factor)};
}

/// A frame on one particular time axis. Positions of different axes neither compare nor subtract, and a number
/// becomes one only where its axis is named: mixing them up is a compile error (tests/core/tst_base.cpp).
template <class Axis>
struct Position {
    std::int64_t frame = 0; ///< from the axis's zero; may be negative

    constexpr Position() = default;
    /// That many frames behind the axis's zero.
    constexpr explicit Position(std::int64_t at) : frame(at) {}
    auto operator<=>(const Position&) const = default;
    /// So many frames later.
    constexpr Position operator+(FrameCount count) const { return Position{frame + count.frames}; }
    /// So many frames earlier.
    constexpr Position operator-(FrameCount count) const { return Position{frame - count.frames}; }
    /// How much later it is than the other.
    constexpr FrameCount operator-(Position other) const { return FrameCount{frame - other.frame}; }
};

struct SourceAxis {};
struct SongAxis {};
struct ResultAxis {};

/// Frames from the first frame of a take's files.
using SourceFrame = Position<SourceAxis>;
/// Frames of the song as it was played: takes laid out against the click. Grid lines live here.
using SongFrame = Position<SongAxis>;
/// Frames of the tightened result. It shares its zero and its grid lines with the song.
using ResultFrame = Position<ResultAxis>;

/// How far one axis lies from another. Only a shift leads from axis to axis: to = from + shift.
template <class From, class To>
struct AxisShift {
    FrameCount by; ///< added to a position of `From` it gives one of `To`

    constexpr AxisShift() = default;
    /// So far.
    constexpr explicit AxisShift(FrameCount count) : by(count) {}
    auto operator<=>(const AxisShift&) const = default;
    /// The same axes, so much farther apart.
    constexpr AxisShift operator+(FrameCount count) const { return AxisShift{by + count}; }
    /// How much farther apart than by the other.
    constexpr FrameCount operator-(AxisShift other) const { return by - other.by; }
};
template <class From, class To>
constexpr Position<To> operator+(Position<From> at, AxisShift<From, To> shift) {
    return Position<To>{at.frame + shift.by.frames};
}
template <class From, class To>
constexpr Position<From> operator-(Position<To> at, AxisShift<From, To> shift) {
    return Position<From>{at.frame - shift.by.frames};
}

/// Where a take lies in the song as it was played.
using SourceToSong = AxisShift<SourceAxis, SongAxis>;
/// Where a slice lies in the result.
using SourceToResult = AxisShift<SourceAxis, ResultAxis>;

/// Where a slice lies whose hit lands where it was played.
constexpr SourceToResult asResult(SourceToSong shift) {
    return SourceToResult{shift.by};
}
/// The song's grid is the result's grid: a line at `line` is where a hit lands.
constexpr ResultFrame asResult(SongFrame line) {
    return ResultFrame{line.frame};
}
/// The place of the song that a place of the result shares its number with.
constexpr SongFrame asSong(ResultFrame at) {
    return SongFrame{at.frame};
}

} // namespace lampo
