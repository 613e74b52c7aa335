#pragma once

#include <compare>
#include <cstdint>

namespace lampo {

/// A number of frames: one frame is one sample of every channel. May be negative (a move to the left).
struct FrameCount {
    std::int64_t frames = 0;

    auto operator<=>(const FrameCount&) const = default;
    constexpr FrameCount operator-() const { return {-frames}; }
    constexpr FrameCount operator+(FrameCount other) const { return {frames + other.frames}; }
    constexpr FrameCount operator-(FrameCount other) const { return {frames - other.frames}; }
};

/// A frame on one particular time axis. Positions of different axes neither compare nor subtract: mixing them
/// up is a compile error (tests/compile_fail).
template <class Axis>
struct Position {
    std::int64_t frame = 0;

    auto operator<=>(const Position&) const = default;
    constexpr Position operator+(FrameCount count) const { return {frame + count.frames}; }
    constexpr Position operator-(FrameCount count) const { return {frame - count.frames}; }
    constexpr FrameCount operator-(Position other) const { return {frame - other.frame}; }
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

/// The song's grid is the result's grid: a line at `line` is where a hit lands.
constexpr ResultFrame asResult(SongFrame line) {
    return {line.frame};
}

/// A take that starts `takeStart` after the song's zero.
constexpr SongFrame asPlayed(SourceFrame source, FrameCount takeStart) {
    return SongFrame{source.frame} + takeStart;
}

} // namespace lampo
