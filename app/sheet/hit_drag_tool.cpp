#include "sheet/hit_drag_tool.h"

#include "proof/warnings.h"

#include <algorithm>
#include <cmath>

namespace lampo {
namespace {

constexpr int stickyPixels = 4;
constexpr Milliseconds nearestNeighbour{17}; ///< attacks need this much between them to be cut apart

} // namespace

void HitDragTool::press(const SheetState& state, QPoint at, std::size_t hit) {
    hit_ = hit;
    pressed_ = at;
    from_ = state.outcome->landings[hit].at;
    inPlot_ = state.layout.plot.contains(at);
}

SheetState::Drag HitDragTool::move(const SheetState& state, QPoint at, bool free) const {
    const auto& landings = state.outcome->landings;
    const SampleRate rate = state.session->rate;
    double framesPerPixel = state.axis.framesPerPixel();
    int pixels = at.x() - pressed_.x();
    if (inPlot_) {
        const double half = state.layout.plot.height() / 2.0 - 8;
        framesPerPixel = static_cast<double>(toFrames(Milliseconds{state.plotReach}, rate).frames) / half;
        pixels = at.y() - pressed_.y();
    }
    ResultFrame to = from_ + FrameCount{std::llround(pixels * framesPerPixel)};
    const auto& line = landings[*hit_].line;
    if (line && !free &&
        static_cast<double>(std::abs((to - asResult(line->frame)).frames)) < stickyPixels * framesPerPixel)
        to = asResult(line->frame);
    const FrameCount apart = toFrames(nearestNeighbour, rate);
    const ResultFrame low = *hit_ > 0 ? landings[*hit_ - 1].at + apart : ResultFrame{0};
    const ResultFrame high =
        *hit_ + 1 < landings.size() ? landings[*hit_ + 1].at - apart : ResultFrame{state.session->length().frames};
    const ResultFrame wanted = to;
    if (low < high)
        to = std::clamp(to, low, high);
    using Limit = SheetState::Drag::Limit;
    return {*hit_, to, wanted != to ? Limit::neighbour : opensLongHole(state, to) ? Limit::hole : Limit::none};
}

/// In front of the hit, or behind it.
bool HitDragTool::opensLongHole(const SheetState& state, ResultFrame to) const {
    const auto& landings = state.outcome->landings;
    const FrameCount move = to - asResult(landings[*hit_].played);
    const FrameCount most = toFrames(longestHole, state.session->rate);
    return (*hit_ > 0 && move - landings[*hit_ - 1].move() > most) ||
           (*hit_ + 1 < landings.size() && landings[*hit_ + 1].move() - move > most);
}

std::optional<Edit> HitDragTool::release(const SheetState& state, QPoint at, bool free) {
    const SheetState::Drag drag = move(state, at, free);
    hit_.reset();
    if ((at - pressed_).manhattanLength() < 3 || drag.at == from_)
        return std::nullopt;
    return Correct{landedAt(*state.session, state.outcome->hits[drag.hit], drag.at)};
}

} // namespace lampo
