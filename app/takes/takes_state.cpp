#include "takes/takes_state.h"

#include <algorithm>
#include <cmath>

namespace lampo {
namespace {

constexpr int nearPixels = 4;

/// The nearest place at which a take's hits could be cut apart: what they mean.
void nearestCut(std::span<const Landing> landings, SongFrame at, std::optional<SongFrame>& nearest) {
    const auto after = std::partition_point(landings.begin(), landings.end(),
                                            [&](const Landing& landing) { return landing.meant < at; });
    for (auto it = after == landings.begin() ? after : std::prev(after); it != landings.end() && it <= after; ++it)
        if (!nearest || abs(it->meant - at) < abs(*nearest - at))
            nearest = it->meant;
}

} // namespace

TakesLayout TakesLayout::of(QSize size, int left, std::size_t takes) {
    TakesLayout layout;
    layout.left = left;
    const int rows = static_cast<int>(takes) + 1;
    for (int row = 0; row < rows; ++row) {
        const int top = size.height() * row / rows;
        const QRect rect(left, top, size.width() - left, size.height() * (row + 1) / rows - top);
        row + 1 < rows ? layout.rows.push_back(rect) : void(layout.comp = rect);
    }
    return layout;
}

int TakesLayout::heightFor(std::size_t takes, int lineHeight) {
    const int row = takes <= 4 ? lineHeight * 2 : std::max(lineHeight, lineHeight * 9 / static_cast<int>(takes));
    return row * (static_cast<int>(takes) + 1);
}

std::optional<TakeIndex> TakesLayout::rowAt(QPoint point) const {
    for (TakeIndex row; row < rows.size(); ++row)
        if (rows[row].top() <= point.y() && point.y() <= rows[row].bottom())
            return row;
    return std::nullopt;
}

SongFrame TakesState::toFrame(int x) const {
    return std::clamp(sheet->axis.songAt(x - layout.left), SongFrame{0}, SongFrame{} + session().extent());
}

SongFrame TakesState::snapped(SongFrame at, std::optional<TakeIndex> take, bool free) const {
    if (free || snap == Snap::nowhere)
        return at;
    const MusicalMap map(session().map, session().rate);
    if (snap == Snap::bars) {
        const int bar = map.barAt(at);
        const SongFrame before = std::max(map.barStart(bar), SongFrame{0}), after = map.barStart(bar + 1);
        return at - before < after - at ? before : after;
    }
    std::optional<SongFrame> nearest;
    if (const auto laid = take ? ownLay(session(), outcome(), *take, at) : nullptr)
        nearestCut(laid->landings, at, nearest);
    else
        nearestCut(outcome().landings, at, nearest);
    return nearest.value_or(at);
}

Range<SongFrame> TakesState::barAround(SongFrame at) const {
    const MusicalMap map(session().map, session().rate);
    const int bar = map.barAt(at);
    return {std::max(map.barStart(bar), SongFrame{0}), map.barStart(bar + 1)};
}

std::optional<std::size_t> TakesState::borderUnder(QPoint point) const {
    const auto& passages = session().comp.passages;
    std::optional<std::size_t> nearest;
    double least = nearPixels + 0.5;
    for (std::size_t passage = 1; passage < passages.size(); ++passage) {
        const double away = std::abs(toX(passages[passage].begin) - point.x());
        if (away < least) {
            least = away;
            nearest = passage;
        }
    }
    return nearest;
}

} // namespace lampo
