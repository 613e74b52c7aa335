#include "sheet/sheet_layout.h"

#include <algorithm>

namespace lampo {

SheetLayout SheetLayout::of(QSize size, std::size_t lanes, int line, int scrolled) {
    SheetLayout layout;
    const int width = size.width();
    const int rulerHeight = 2 * line;
    const int ladderHeight = 5 * line;
    const int plotHeight = 7 * line;
    layout.ruler = {0, 0, width, rulerHeight};
    layout.ladder = {0, rulerHeight, width, ladderHeight};
    const int top = rulerHeight + ladderHeight;
    const int available = std::max(line, size.height() - top - plotHeight);
    layout.lanesArea = {0, top, width, available};
    layout.plot = {0, top + available, width, plotHeight};

    const int count = static_cast<int>(lanes);
    const int least = 2 * line;
    const int height = count > 0 ? std::clamp(available / count, least, 8 * line) : least;
    layout.lanesHeight = height * count;
    const int offset = std::clamp(scrolled, 0, std::max(0, layout.lanesHeight - available));
    for (int lane = 0; lane < count; ++lane)
        layout.lanes.emplace_back(0, top + lane * height - offset, width, height);
    return layout;
}

std::optional<MicIndex> SheetLayout::laneAt(QPoint point) const {
    if (!lanesArea.contains(point))
        return std::nullopt;
    for (MicIndex lane; lane < lanes.size(); ++lane)
        if (lanes[lane].contains(point))
            return lane;
    return std::nullopt;
}

} // namespace lampo
