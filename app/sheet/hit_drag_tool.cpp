#include "sheet/hit_drag_tool.h"

#include "advice/hit_edits.h"
#include "warnings/warnings.h"

#include <algorithm>
#include <cmath>

namespace lampo {
namespace {

constexpr int stickyPixels = 4;
constexpr int leastPixels = 3;               ///< before a press is a drag
constexpr Milliseconds nearestNeighbour{17}; ///< attacks need this much between them to be cut apart

/// In front of the hit, or behind it.
bool opensLongHole(const std::vector<Landing>& landings, HitIndex hit, FrameCount most) {
    const auto opens = [&](std::size_t left) { return landings[left + 1].move() - landings[left].move() > most; };
    return (hit > 0 && opens(hit - 1)) || (hit + 1 < landings.size() && opens(hit));
}

} // namespace

void HitDragTool::press(const SheetState& state, std::shared_ptr<const Outcome> outcome, QPoint at, HitIndex hit) {
    hit_ = hit;
    chosen_ = state.isSelected(hit) ? state.selection : std::vector{hit};
    before_ = std::move(outcome);
    pressed_ = at;
    gesture_ = Document::newGesture();
    inPlot_ = state.layout.plot.contains(at);
    heldBack_ = false;
}

/// How far they may go before one meets a hit that stays, backwards and forwards.
Range<FrameCount> HitDragTool::room(const Session& session) const {
    const auto& landings = before_->landings;
    const FrameCount apart = toFrames(nearestNeighbour, session.rate);
    Range<FrameCount> room{FrameCount{} - session.length(), session.length()};
    const auto stays = [&](HitIndex hit) { return !std::binary_search(chosen_.begin(), chosen_.end(), hit); };
    for (const HitIndex hit : chosen_) {
        const ResultFrame at = landings[hit].at;
        const ResultFrame low = hit > 0 ? landings[hit - 1].at + apart : ResultFrame{};
        const ResultFrame high =
            hit + 1 < landings.size() ? landings[hit + 1].at - apart : ResultFrame{session.length().frames};
        if (hit == 0 || stays({hit - 1}))
            room.begin = std::max(room.begin, std::min(low - at, FrameCount{}));
        if (hit + 1 == landings.size() || stays({hit + 1}))
            room.end = std::min(room.end, std::max(high - at, FrameCount{}));
    }
    return room;
}

/// Of the grid as feel and companion bend it, as far as hits can mean it.
std::optional<ResultFrame> HitDragTool::nearestLineTo(const Session& session, ResultFrame place) const {
    const SongFrame at = asSong(place);
    const FrameCount around = toFrames(Seconds{2}, session.rate);
    const auto lines =
        targetLines(session, MusicalMap(session.map, session.rate), {at - around, at + around}, *before_->attacks);
    return lines.empty() ? std::nullopt : std::optional(asResult(lines[nearestLine(at, lines)].frame));
}

std::optional<Edit> HitDragTool::move(const SheetState& state, QPoint at, bool free) {
    double framesPerPixel = state.axis.framesPerPixel();
    int pixels = at.x() - pressed_.x();
    if (inPlot_) {
        const double half = state.layout.plot.height() / 2.0 - 8;
        framesPerPixel =
            static_cast<double>(toFrames(Milliseconds{state.plotReach}, state.session->rate).frames) / half;
        pixels = at.y() - pressed_.y();
    }
    FrameCount by{std::abs(pixels) < leastPixels ? 0 : std::llround(pixels * framesPerPixel)};
    const ResultFrame from = before_->landings[*hit_].at;
    if (const auto line = free ? std::nullopt : nearestLineTo(*state.session, from + by)) {
        const FrameCount toLine = *line - from;
        if (static_cast<double>(std::abs((toLine - by).frames)) < stickyPixels * framesPerPixel)
            by = toLine;
    }
    const Range<FrameCount> space = room(*state.session);
    const FrameCount wanted = by;
    by = std::clamp(by, space.begin, space.end);
    heldBack_ = by != wanted;
    if (by == FrameCount{})
        return std::nullopt;
    auto edit = nudgeEdit(*state.session, *before_, chosen_, by);
    return edit ? std::optional(std::move(*edit)) : std::nullopt;
}

SheetState::Drag HitDragTool::shown(const SheetState& state) const {
    using Limit = SheetState::Limit;
    const auto& landings = state.outcome->landings;
    const FrameCount longest = toFrames(longestHole, state.session->rate);
    const auto any = [&](auto&& test) { return std::any_of(chosen_.begin(), chosen_.end(), test); };
    // What goes along with a hit that a user placed is held to it, not the other way round.
    const auto isHeld = [&](HitIndex hit) {
        return hit < landings.size() && landings[hit].heldTogether && !before_->landings[hit].heldTogether;
    };
    const auto joins = [&](HitIndex hit) { return isHeld({hit - 1}) || isHeld(hit) || isHeld({hit + 1}); };
    const auto opens = [&](HitIndex hit) { return opensLongHole(landings, hit, longest); };
    return {*hit_, heldBack_    ? Limit::neighbour
                   : any(joins) ? Limit::joined
                   : any(opens) ? Limit::hole
                                : Limit::none};
}

bool HitDragTool::stands(const Outcome& outcome) const {
    return hit_ && outcome.hits.size() == before_->hits.size() &&
           outcome.hits[*hit_].anchor == before_->hits[*hit_].anchor;
}

} // namespace lampo
