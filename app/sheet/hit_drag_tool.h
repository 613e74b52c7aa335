#pragma once

#include "sheet/sheet_state.h"

namespace lampo {

/// Takes a landed hit in the ladder (sideways) or in the early/late plot (up is early) and moves it: a preview
/// while dragging, one edit at release. It cannot pass its neighbours, and sticks to its line when near.
class HitDragTool {
public:
    bool active() const { return hit_.has_value(); }

    void press(const SheetState& state, QPoint at, std::size_t hit);
    /// The landing to show. `free` keeps it from sticking to the line.
    SheetState::Drag move(const SheetState& state, QPoint at, bool free) const;
    /// The edit, or none when the hit was not really moved.
    std::optional<Edit> release(const SheetState& state, QPoint at, bool free);
    void cancel() { hit_.reset(); }

private:
    bool opensLongHole(const SheetState& state, ResultFrame to) const;

    std::optional<std::size_t> hit_;
    QPoint pressed_;
    ResultFrame from_;
    bool inPlot_ = false;
};

} // namespace lampo
