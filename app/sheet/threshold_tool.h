#pragma once

#include "sheet/sheet_state.h"

namespace lampo {

/// Takes a guide's threshold line and moves it up and down: every step is an edit of one gesture, so hits appear
/// and go while the hand moves. Where a section has its own threshold, that one moves.
class ThresholdTool {
public:
    bool active() const { return mic_.has_value(); }

    void press(const SheetState& state, QPoint at, MicIndex mic);
    /// In steps of half a decibel.
    Edit move(const SheetState& state, QPoint at) const;
    void release() { mic_.reset(); }
    int gesture() const { return gesture_; }

private:
    Edit set(const SheetState& state, Decibels level) const;

    std::optional<MicIndex> mic_;
    std::optional<std::size_t> section_;
    Decibels before_;
    int pressedY_ = 0;
    int gesture_ = 0;
};

} // namespace lampo
