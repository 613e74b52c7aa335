#include "sheet/level_drag_tool.h"

#include "advice/patch_advice.h"
#include "samples/sample_strokes.h"

#include <algorithm>
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
    if (state.plottedSample())
        return Expected<Edit>(sampleEdit(*state.plotsSample, by));
    return louder(session_, *before_, chosen_, {by}, state.repairsOn).map([](const AddPatches& edit) {
        return Edit{PatchEdit{edit}};
    });
}

/// Of all of them that the sample's drum has a part in.
Edit LevelDragTool::sampleEdit(std::size_t sample, double by) const {
    SaySampleHits edit{sample, {}};
    for (const HitIndex hit : chosen_)
        if (const auto stroke = sampleStroke(session_, *before_, session_.samples[sample], hit))
            edit.said.push_back({placeOf(session_, before_->hits[hit]), false,
                                 Decibels{std::clamp(stroke->level.value + by, limits::sampleLevel.low,
                                                     limits::sampleLevel.high)}});
    return SampleEdit{edit};
}

} // namespace lampo
