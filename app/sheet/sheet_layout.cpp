#include "sheet/sheet_layout.h"

#include <algorithm>
#include <numeric>

namespace lampo {

SheetLayout SheetLayout::of(QSize size, std::size_t lanes, int line, int scrolled,
                            const std::map<MicIndex, int>& own) {
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

    int others = static_cast<int>(lanes), left = available;
    std::vector<int> heights(lanes, 0);
    for (const auto& [lane, height] : own)
        if (lane < lanes) {
            heights[lane] = std::clamp(height, lowestLane * line, highestLane * line);
            left -= heights[lane];
            --others;
        }
    const int usual = others > 0 ? std::clamp(left / others, 2 * line, 8 * line) : 0;
    for (int& height : heights)
        height = height > 0 ? height : usual;
    layout.lanesHeight = std::accumulate(heights.begin(), heights.end(), 0);
    int y = top - std::clamp(scrolled, 0, std::max(0, layout.lanesHeight - available));
    for (const int height : heights) {
        layout.lanes.emplace_back(0, y, width, height);
        y += height;
    }
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
