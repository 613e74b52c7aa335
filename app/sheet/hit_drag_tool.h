#pragma once

#include "sheet/sheet_state.h"

namespace lampo {

/// Takes a landed hit in the ladder (sideways) or in the early/late plot (up is early) and moves it, together with
/// the others that are chosen: every step is an edit of one gesture, so that what rides along, the figures and the
/// sound follow the hand. Hits cannot pass those that stay, and the one in hand sticks to lines that it comes near.
class HitDragTool {
public:
    bool active() const { return hit_.has_value(); }
    int gesture() const { return gesture_; }

    void press(const SheetState& state, std::shared_ptr<const Outcome> outcome, QPoint at, HitIndex hit);
    /// The next edit of the gesture; none where all are back in their places. `free` keeps from sticking.
    std::optional<Edit> move(const SheetState& state, QPoint at, bool free);
    /// What to show of it once the outcome has followed.
    SheetState::Drag shown(const SheetState& state) const;
    /// Whether the outcome still has the hit where it was when it was taken.
    bool stands(const Outcome& outcome) const;
    void release() { hit_.reset(); }

private:
    Range<FrameCount> room(const Session& session) const;
    std::optional<ResultFrame> nearestLineTo(const Session& session, ResultFrame place) const;

    std::optional<HitIndex> hit_;
    std::vector<HitIndex> chosen_;          ///< it and what moves with it
    std::shared_ptr<const Outcome> before_; ///< when it was taken
    QPoint pressed_;
    int gesture_ = 0;
    bool inPlot_ = false;
    bool heldBack_ = false;
};

} // namespace lampo
