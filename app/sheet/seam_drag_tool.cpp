#include "sheet/seam_drag_tool.h"

#include "advice/seam_shapes.h"

#include <algorithm>
#include <cmath>

namespace lampo {
namespace {

constexpr int leastPixels = 2; ///< before a press is a drag

} // namespace

void SeamDragTool::press(const SheetState& state, QPoint at, SheetState::SeamGrip grip) {
    grip_ = grip;
    pressed_ = at;
    gesture_ = Document::newGesture();
    seams_.clear();
    const auto& all = state.outcome->plan->seams;
    const bool isChosen = std::binary_search(state.seams.begin(), state.seams.end(), grip.seam);
    for (const SeamIndex seam : isChosen ? state.seams : std::vector{grip.seam})
        seams_.push_back(all[seam]);
}

std::optional<Edit> SeamDragTool::move(const SheetState& state, QPoint at) const {
    const int pixels = at.x() - pressed_.x();
    const FrameCount later{std::llround(pixels * state.axis.framesPerPixel())};
    if (std::abs(pixels) < leastPixels || std::none_of(seams_.begin(), seams_.end(), canBeShaped))
        return std::nullopt;
    switch (grip_->part) {
    case SheetState::SeamGrip::Part::begin:
        return SeamEdit{begunLater(*state.session, seams_, later)};
    case SheetState::SeamGrip::Part::end:
        return SeamEdit{endedLater(*state.session, seams_, later)};
    case SheetState::SeamGrip::Part::middle:
        break;
    }
    return SeamEdit{movedSeams(*state.session, seams_, later)};
}

} // namespace lampo
