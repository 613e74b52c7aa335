#pragma once

#include "sheet/sheet_state.h"

namespace lampo {

/// Takes the line of a hit in a lane, as played, and moves it to the true start of its attack: a preview while
/// dragging, one edit at release. It sticks to the candidates of the lane's mic unless `free`, and stays between
/// its neighbours.
class MarkDragTool {
public:
    bool active() const { return hit_.has_value(); }

    void press(const SheetState& state, QPoint at, HitIndex hit, MicIndex mic);
    SheetState::MarkDrag move(const SheetState& state, QPoint at, bool free) const;
    std::optional<Edit> release(const SheetState& state, QPoint at, bool free);
    void cancel() { hit_.reset(); }

private:
    std::optional<HitIndex> hit_;
    MicIndex mic_;
    QPoint pressed_;
};

/// A hit's start where it is not beyond its neighbours.
SourceFrame betweenNeighbours(const Outcome& outcome, HitIndex hit, SourceFrame at);

} // namespace lampo
