#pragma once

#include "edits/edit.h"
#include "takes/takes_state.h"

#include <QPoint>

namespace lampo {

/// Sweeping over a row: the range sounds from that take. Over the comp: the range is only chosen.
class SweepTool {
public:
    bool active() const { return active_; }
    void press(const TakesState& state, QPoint at, std::optional<TakeIndex> take);
    /// None while the pointer has hardly moved.
    std::optional<TakesState::Sweep> move(const TakesState& state, QPoint at, bool free) const;
    std::optional<TakesState::Sweep> release(const TakesState& state, QPoint at, bool free);
    void cancel() { active_ = false; }
    std::optional<TakeIndex> take() const { return take_; }

private:
    bool active_ = false;
    std::optional<TakeIndex> take_;
    QPoint pressed_;
};

/// Dragging a border between two passages.
class BorderTool {
public:
    bool active() const { return passage_.has_value(); }
    void press(QPoint at, std::size_t passage);
    TakesState::BorderDrag move(const TakesState& state, QPoint at, bool free) const;
    std::optional<Edit> release(const TakesState& state, QPoint at, bool free);
    void cancel() { passage_.reset(); }

private:
    std::optional<std::size_t> passage_;
    QPoint pressed_;
};

/// Carrying the chosen stretch of a take to another place of the song: a graft.
class CarryTool {
public:
    bool active() const { return active_; }
    void press(QPoint at, TakeIndex take, Range<SongFrame> from);
    TakesState::Carried move(const TakesState& state, QPoint at, bool free) const;
    /// The stretch and where it goes; none when it was not moved.
    std::optional<TakesState::Carried> release(const TakesState& state, QPoint at, bool free);
    void cancel() { active_ = false; }

private:
    bool active_ = false;
    QPoint pressed_;
    TakeIndex take_;
    Range<SongFrame> from_;
};

/// Sliding a whole take along the song: one that was recorded elsewhere on the timeline.
class SlideTool {
public:
    bool active() const { return take_.has_value(); }
    void press(QPoint at, TakeIndex take);
    TakesState::Slid move(const TakesState& state, QPoint at) const;
    std::optional<Edit> release(const TakesState& state, QPoint at);
    void cancel() { take_.reset(); }

private:
    std::optional<TakeIndex> take_;
    QPoint pressed_;
};

} // namespace lampo
