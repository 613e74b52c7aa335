#include "shell/strip_tools.h"

#include "map/map_edits.h"

#include <algorithm>

namespace lampo {

void StripTool::press(const Grip& grip) {
    grip_ = grip;
    moved_ = false;
}

void StripTool::move(int bar, int line) {
    bar_ = bar;
    line_ = line;
    moved_ = true;
}

std::vector<Section> StripTool::sections(const Session& session) const {
    if (!grip_ || !moved_)
        return session.sections;
    if (const auto* border = std::get_if<Border>(&*grip_))
        return withBorderMoved(session.sections, border->bar, line_);
    if (const auto* made = std::get_if<NewSection>(&*grip_)) {
        const int first = std::min(made->bar, bar_);
        return withSection(session.sections,
                           {"Bar " + std::to_string(first), first, std::abs(made->bar - bar_) + 1, {}, {}});
    }
    return session.sections;
}

MapData StripTool::map(const Session& session) const {
    const auto* mark = grip_ && moved_ ? std::get_if<Mark>(&*grip_) : nullptr;
    return mark ? withChangeMoved(session.map, mark->bar, std::max(2, line_)) : session.map;
}

std::optional<Edit> StripTool::release(const Session& session) {
    const auto changed = sections(session);
    const MapData bent = map(session);
    const auto grip = std::exchange(grip_, std::nullopt);
    if (bent != session.map)
        return Edit{
            TimingEdit{SetMap{bent, "Move the change at bar " + std::to_string(std::get<Mark>(*grip).bar)}}};
    if (changed == session.sections)
        return std::nullopt;
    const bool made = std::holds_alternative<NewSection>(*grip);
    return Edit{TimingEdit{SetSections{changed, made ? "New section" : "Move a section's border"}}};
}

} // namespace lampo
