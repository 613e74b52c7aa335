#include "sheet/mark_drag_tool.h"

#include <algorithm>
#include <cmath>

namespace lampo {
namespace {

constexpr int stickyPixels = 6;

} // namespace

SourceFrame betweenNeighbours(const Outcome& outcome, HitIndex hit, SourceFrame at) {
    const auto& hits = outcome.hits;
    if (hit > 0 && hits[hit - 1].besideInItsTake(hits[hit]))
        at = std::max(at, hits[hit - 1].last + FrameCount{1});
    if (hit + 1 < hits.size() && hits[hit + 1].besideInItsTake(hits[hit]))
        at = std::min(at, hits[hit + 1].first - FrameCount{1});
    return at;
}

void MarkDragTool::press(const SheetState&, QPoint at, HitIndex hit, MicIndex mic) {
    hit_ = hit;
    mic_ = mic;
    pressed_ = at;
}

SheetState::MarkDrag MarkDragTool::move(const SheetState& state, QPoint at, bool free) const {
    const double perPixel = state.axis.framesPerPixel();
    const SongHit& hit = state.outcome->hits[*hit_];
    SourceFrame to = hit.anchor + FrameCount{std::llround((at.x() - pressed_.x()) * perPixel)};
    if (!free) {
        double least = stickyPixels * perPixel;
        const SourceFrame wanted = to;
        const auto song = static_cast<double>((wanted + hit.shift).frame);
        for (const auto ref : state.candidatesBetween(mic_, song - least, song + least)) {
            const Candidate& candidate = state.candidateOf(ref);
            const double away = std::abs(static_cast<double>((candidate.at - wanted).frames));
            if (away < least) {
                least = away;
                to = candidate.at;
            }
        }
    }
    return {*hit_, betweenNeighbours(*state.outcome, *hit_, to)};
}

std::optional<Edit> MarkDragTool::release(const SheetState& state, QPoint at, bool free) {
    const SheetState::MarkDrag drag = move(state, at, free);
    hit_.reset();
    const SongHit& hit = state.outcome->hits[drag.hit];
    if (std::abs(at.x() - pressed_.x()) < 3 || drag.at == hit.anchor)
        return std::nullopt;
    Correction correction = correctionOf(*state.session, hit, Correction::Kind::mark);
    correction.to = drag.at;
    return Correct{correction};
}

} // namespace lampo
