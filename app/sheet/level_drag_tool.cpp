#include "sheet/level_drag_tool.h"

#include "advice/patch_advice.h"

#include <cmath>

namespace lampo {

void LevelDragTool::press(const SheetState& state, std::shared_ptr<const Outcome> outcome, QPoint at,
                          HitIndex hit) {
    chosen_ = state.isSelected(hit) ? state.selection : std::vector{hit};
    before_ = std::move(outcome);
    session_ = *state.session;
    pressedY_ = at.y();
    gesture_ = Document::newGesture();
}

std::optional<Expected<Edit>> LevelDragTool::move(const SheetState& state, QPoint at) const {
    const double by = std::round(2 * (pressedY_ - at.y()) * state.decibelsPerPixel()) / 2;
    if (by == 0)
        return std::nullopt;
    return louder(session_, *before_, chosen_, {by}, state.repairsOn).map([](const AddPatches& edit) {
        return Edit{PatchEdit{edit}};
    });
}

} // namespace lampo
