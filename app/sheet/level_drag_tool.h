#pragma once

#include "sheet/sheet_state.h"

namespace lampo {

/// Takes a stroke in the plot of levels and makes it louder or softer, together with the others that are chosen:
/// every step is an edit of one gesture.
class LevelDragTool {
public:
    bool active() const { return !chosen_.empty(); }
    int gesture() const { return gesture_; }

    void press(const SheetState& state, std::shared_ptr<const Outcome> outcome, QPoint at, HitIndex hit);
    /// In steps of half a decibel; none where all are as loud as before. Errors: those of louder().
    std::optional<Expected<Edit>> move(const SheetState& state, QPoint at) const;
    void release() { chosen_.clear(); }

private:
    Edit sampleEdit(std::size_t sample, double by) const;

    std::vector<HitIndex> chosen_;          ///< it and what goes with it
    std::shared_ptr<const Outcome> before_; ///< when it was taken
    Session session_;
    int pressedY_ = 0;
    int gesture_ = 0;
};

} // namespace lampo
