#include "takes/take_tools.h"

#include <algorithm>
#include <cstdlib>

namespace lampo {
namespace {

constexpr int leastMove = 3; ///< pixels; less is a click

} // namespace

void SweepTool::press(const TakesState&, QPoint at, std::optional<TakeIndex> take) {
    active_ = true;
    take_ = take;
    pressed_ = at;
}

std::optional<TakesState::Sweep> SweepTool::move(const TakesState& state, QPoint at, bool free) const {
    if (std::abs(at.x() - pressed_.x()) <= leastMove)
        return std::nullopt;
    const SongFrame from = state.toFrame(std::min(at.x(), pressed_.x()));
    const SongFrame to = state.toFrame(std::max(at.x(), pressed_.x()));
    Range<SongFrame> range{state.snapped(from, take_, free), state.snapped(to, take_, free)};
    if (range.empty() && state.snap == Snap::bars && !free)
        range = state.barAround(state.toFrame((at.x() + pressed_.x()) / 2));
    return range.empty() ? std::nullopt : std::optional(TakesState::Sweep{take_, range});
}

std::optional<TakesState::Sweep> SweepTool::release(const TakesState& state, QPoint at, bool free) {
    active_ = false;
    return move(state, at, free);
}

void BorderTool::press(QPoint at, std::size_t passage) {
    passage_ = passage;
    pressed_ = at;
}

TakesState::BorderDrag BorderTool::move(const TakesState& state, QPoint at, bool free) const {
    const auto& passages = state.session().comp.passages;
    const SongFrame wanted = state.snapped(state.toFrame(at.x()), passages[*passage_].take, free);
    const SongFrame earliest = passages[*passage_ - 1].begin + FrameCount{1};
    const SongFrame latest = (*passage_ + 1 < passages.size() ? passages[*passage_ + 1].begin
                                                              : SongFrame{0} + state.session().extent()) -
                             FrameCount{1};
    return {*passage_, std::clamp(wanted, earliest, std::max(earliest, latest))};
}

std::optional<Edit> BorderTool::release(const TakesState& state, QPoint at, bool free) {
    const TakesState::BorderDrag drag = move(state, at, free);
    passage_.reset();
    if (std::abs(at.x() - pressed_.x()) <= leastMove)
        return std::nullopt;
    return MoveBorder{drag.passage, drag.at};
}

void CarryTool::press(QPoint at, TakeIndex take, Range<SongFrame> from) {
    active_ = true;
    pressed_ = at;
    take_ = take;
    from_ = from;
}

TakesState::Carried CarryTool::move(const TakesState& state, QPoint at, bool free) const {
    const SongFrame begin = from_.begin + (state.toFrame(at.x()) - state.toFrame(pressed_.x()));
    return {take_, from_, std::max(SongFrame{0}, state.snapped(begin, std::nullopt, free))};
}

std::optional<TakesState::Carried> CarryTool::release(const TakesState& state, QPoint at, bool free) {
    active_ = false;
    const TakesState::Carried carried = move(state, at, free);
    return std::abs(at.x() - pressed_.x()) <= leastMove ? std::nullopt : std::optional(carried);
}

void SlideTool::press(QPoint at, TakeIndex take) {
    take_ = take;
    pressed_ = at;
}

TakesState::Slid SlideTool::move(const TakesState& state, QPoint at) const {
    return {*take_,
            FrameCount{static_cast<std::int64_t>((at.x() - pressed_.x()) * state.sheet->axis.framesPerPixel())}};
}

std::optional<Edit> SlideTool::release(const TakesState& state, QPoint at) {
    const TakesState::Slid slid = move(state, at);
    take_.reset();
    if (std::abs(at.x() - pressed_.x()) <= leastMove)
        return std::nullopt;
    return SetTakeStart{slid.take, state.session().takes[slid.take].start + slid.by};
}

} // namespace lampo
