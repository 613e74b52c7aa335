#pragma once

#include "base/indices.h"

#include <QRect>
#include <QSize>

#include <map>
#include <optional>
#include <vector>

namespace lampo {

/// Where everything on the sheet lies. Plain code: tested without a screen.
struct SheetLayout {
    QRect ruler;
    QRect ladder;
    QRect lanesArea;          ///< what is visible of the lanes
    std::vector<QRect> lanes; ///< mics, then companions; may reach beyond lanesArea
    QRect plot;
    int lanesHeight = 0; ///< of all lanes together

    bool operator==(const SheetLayout&) const = default;
    /// `line` is the height of a line of text, `scrolled` how far the lanes are scrolled up; `own`: heights in
    /// pixels that single lanes were given, the others share what is left.
    static SheetLayout of(QSize size, std::size_t lanes, int line, int scrolled,
                          const std::map<MicIndex, int>& own = {});
    /// Of lines of text.
    static constexpr int lowestLane = 1, highestLane = 40;

    int ladderPlayedY() const { return ladder.top() + ladder.height() / 5; }
    int ladderLandedY() const { return ladder.bottom() - ladder.height() / 5; }
    std::optional<MicIndex> laneAt(QPoint point) const;
};

} // namespace lampo
