#pragma once

#include "sheet/sheet_state.h"

namespace lampo {

/// Takes a seam in the lanes, as a whole or by one of its ends, and moves it together with the others that are
/// chosen: every step is an edit of one gesture, for all mics at once, so that picture and sound follow the hand.
class SeamDragTool {
public:
    bool active() const { return grip_.has_value(); }
    int gesture() const { return gesture_; }

    void press(const SheetState& state, QPoint at, SheetState::SeamGrip grip);
    /// The next edit of the gesture; none where all are back in their places, or none of them can be shaped.
    std::optional<Edit> move(const SheetState& state, QPoint at) const;
    void release() { grip_.reset(); }

private:
    std::optional<SheetState::SeamGrip> grip_;
    std::vector<Seam> seams_; ///< it and what moves with it, as they were when it was taken
    QPoint pressed_;
    int gesture_ = 0;
};

} // namespace lampo
