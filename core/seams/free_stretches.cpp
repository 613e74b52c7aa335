#include "seams/free_stretches.h"

#include "timing/landing.h"

#include <algorithm>

namespace lampo {
SeamMeasures::SeamMeasures(const Session& session)
    : before(toFrames(keptBefore, session.rate)), after(toFrames(keptAfter, session.rate)),
      leadIn(std::max(toFrames(session.seams.leadIn, session.rate), before)),
      shortest(toFrames(shortestFade, session.rate)),
      fade(std::max(toFrames(session.seams.fade, session.rate), shortest)) {}

/// The stretches of the result that one side's strokes take up; `other`: where else they would sound.
void FreeStretches::addStrokes(Range<ResultFrame> room, const SeamSide& side, SourceToResult other) {
    if (side.take >= sounds_.size())
        return;
    const SourceToResult near = std::min(side.shift, other), far = std::max(side.shift, other);
    const auto& strokes = sounds_[side.take].strokes;
    auto stroke = std::lower_bound(strokes.begin(), strokes.end(), room.begin - far - measures_.after);
    for (; stroke != strokes.end() && *stroke - measures_.before + near < room.end; ++stroke)
        taken_.push_back({*stroke - measures_.before + near, *stroke + measures_.after + far});
}

const std::vector<Range<ResultFrame>>& FreeStretches::in(Range<ResultFrame> room, const SeamSide& earlier,
                                                         const SeamSide& later) {
    taken_.clear();
    free_.clear();
    const bool oneTake = earlier.take == later.take;
    addStrokes(room, earlier, oneTake ? later.shift : earlier.shift);
    if (!oneTake) {
        addStrokes(room, later, later.shift);
        std::sort(taken_.begin(), taken_.end(), [](const auto& a, const auto& b) { return a.begin < b.begin; });
    }
    ResultFrame at = room.begin;
    for (const Range<ResultFrame>& stroke : taken_) {
        if (stroke.begin - at >= measures_.shortest)
            free_.push_back({at, std::min(stroke.begin, room.end)});
        at = std::max(at, stroke.end);
    }
    if (room.end - at >= measures_.shortest)
        free_.push_back({at, room.end});
    return free_;
}

void cutTo(std::span<const Range<ResultFrame>> free, Range<ResultFrame> looked, FrameCount length,
           std::vector<Range<ResultFrame>>& found) {
    found.clear();
    for (const Range<ResultFrame>& stretch : free)
        if (const auto part = stretch.intersected(looked); part.length() >= length)
            found.push_back(part);
}

Range<ResultFrame> ending(ResultFrame wanted, FrameCount length, Range<ResultFrame> stretch) {
    const ResultFrame last = std::clamp(wanted, stretch.begin + length, stretch.end);
    return {last - length, last};
}

Range<ResultFrame> ruledPlace(std::span<const Range<ResultFrame>> free, ResultFrame wanted, FrameCount fade) {
    const auto holds = [&](const Range<ResultFrame>& stretch) { return stretch.length() >= fade; };
    for (auto stretch = free.rbegin(); stretch != free.rend(); ++stretch)
        if (holds(*stretch) && stretch->begin + fade <= wanted)
            return ending(wanted, fade, *stretch);
    if (const auto behind = std::find_if(free.begin(), free.end(), holds); behind != free.end())
        return ending(wanted, fade, *behind);
    const auto longest = std::max_element(free.begin(), free.end(),
                                          [](const auto& a, const auto& b) { return a.length() < b.length(); });
    return ending(wanted, std::min(fade, longest->length()), *longest);
}

} // namespace lampo
