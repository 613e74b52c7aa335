#include "shell/strip_tools.h"

#include "map/map_edits.h"
#include "map/place_text.h"

#include <algorithm>

namespace lampo {

void StripTool::press(const Grip& grip, const Session& session, int gesture) {
    grip_ = grip;
    gesture_ = gesture;
    sections_ = session.sections;
    map_ = session.map;
}

Edit StripTool::move(int bar, int line) const {
    if (const auto* mark = std::get_if<Mark>(&*grip_))
        return SetMap{withChangeMoved(map_, mark->place, std::max(2, line)),
                      "Move the change at bar " + placeText(mark->place)};
    if (const auto* border = std::get_if<Border>(&*grip_))
        return SetSections{withBorderMoved(sections_, border->bar, line), "Move a section's border"};
    const int from = std::get<NewSection>(*grip_).bar, first = std::min(from, bar);
    return SetSections{
        withSection(sections_, {"Bar " + std::to_string(first), first, std::abs(from - bar) + 1, {}, {}}),
        "Section at bar " + std::to_string(first)};
}

} // namespace lampo
