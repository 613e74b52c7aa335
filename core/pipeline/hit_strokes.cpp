#include "pipeline/hit_strokes.h"

#include <algorithm>

namespace lampo {
namespace {

const Stroke* strokeBetween(const Outcome& outcome, TakeIndex take, MicIndex mic, SourceFrame first,
                            SourceFrame last) {
    const auto& strokes = strokesOf(outcome, take);
    auto stroke =
        std::partition_point(strokes.begin(), strokes.end(), [&](const Stroke& one) { return one.at < first; });
    for (; stroke != strokes.end() && stroke->at <= last; ++stroke)
        if (stroke->mic == mic)
            return &*stroke;
    return nullptr;
}

} // namespace

const std::vector<Stroke>& strokesOf(const Outcome& outcome, TakeIndex take) {
    static const std::vector<Stroke> none;
    const auto& strokes = outcome.takes[take]->strokes;
    return strokes ? strokes->strokes : none;
}

const Stroke* strokeOf(const Outcome& outcome, const SongHit& hit) {
    constexpr FrameCount near{2};
    return hit.mic ? strokeBetween(outcome, hit.take, *hit.mic, hit.found() - near, hit.found() + near) : nullptr;
}

bool isOfItsMic(const Session& session, const SongHit& hit) {
    return hit.mic && voiceOf(session.mics[*hit.mic].role) == hit.voice;
}

const Stroke* strokeOf(const Outcome& outcome, const SongHit& hit, MicIndex mic) {
    return strokeBetween(outcome, hit.take, mic, hit.first, hit.last);
}

} // namespace lampo
