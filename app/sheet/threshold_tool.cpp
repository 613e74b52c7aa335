#include "sheet/threshold_tool.h"

#include <algorithm>
#include <cmath>

namespace lampo {

void ThresholdTool::press(const SheetState& state, QPoint at, MicIndex mic) {
    const SongFrame place = state.axis.songAt(at.x());
    const Section* section =
        state.session->sectionOf(MusicalMap(state.session->map, state.session->rate).barAt(place));
    const SectionDetection* own = section ? section->detectionOf(state.session->mics[mic].stem) : nullptr;
    section_.reset();
    if (own && own->threshold)
        section_ = static_cast<std::size_t>(section - state.session->sections.data());
    mic_ = mic;
    before_ = state.thresholdAt(mic, place);
    pressedY_ = at.y();
    gesture_ = Document::newGesture();
}

Edit ThresholdTool::move(const SheetState& state, QPoint at) const {
    const double change = state.levelAt(*mic_, at.y()).value - state.levelAt(*mic_, pressedY_).value;
    return set(state, {std::clamp(std::round((before_.value + change) * 2) / 2, -60.0, 0.0)});
}

Edit ThresholdTool::set(const SheetState& state, Decibels level) const {
    if (!section_)
        return SetThreshold{*mic_, level};
    SectionDetection detection = *state.session->sections[*section_].detectionOf(state.session->mics[*mic_].stem);
    detection.threshold = level;
    return SetSectionDetection{*section_, detection};
}

} // namespace lampo
