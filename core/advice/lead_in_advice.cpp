#include "advice/lead_in_advice.h"

#include <algorithm>
#include <limits>

namespace lampo {
namespace {

constexpr Milliseconds offered[] = {{0}, {5}, {10}, {15}};

/// How long before a hit's first attack other sounds begin.
struct Before {
    FrameCount own{};                                                 ///< the earliest that belongs to it
    FrameCount foreign{std::numeric_limits<std::int64_t>::max() / 2}; ///< the latest that does not
};

Before soundsBefore(const SongHit& hit, const SongHit* previous, std::span<const SourceFrame> strokes,
                    FrameCount oneHit) {
    Before before;
    SourceFrame end{std::numeric_limits<std::int64_t>::min() / 2};
    if (previous) {
        end = previous->last;
        before.foreign = hit.first - end;
    }
    const auto first = std::upper_bound(strokes.begin(), strokes.end(), end);
    for (auto stroke = std::lower_bound(first, strokes.end(), hit.first); stroke != first;) {
        const FrameCount away = hit.first - *--stroke;
        const bool belongs = away <= oneHit && (!previous || away <= *stroke - end);
        if (!belongs) {
            before.foreign = std::min(before.foreign, away);
            break;
        }
        before.own = away;
    }
    return before;
}

} // namespace

LeadInAdvice adviseLeadIn(const Session& session, const Outcome& outcome, Range<SongFrame> within) {
    LeadInAdvice advice;
    for (const Milliseconds leadIn : offered)
        advice.figures.push_back({leadIn});
    const FrameCount oneHit = toFrames(session.clusters.window, session.rate);
    const FrameCount whole = toFrames(keptAfter, session.rate);
    for (std::size_t i = 0; i < outcome.hits.size(); ++i) {
        const SongHit& hit = outcome.hits[i];
        const auto& strokes = outcome.takes[hit.take]->strokes;
        if (hit.bare || !strokes || !within.contains(asSong(outcome.landings[i].at)))
            continue;
        ++advice.hits;
        const SongHit* previous =
            i > 0 && hit.besideInItsTake(outcome.hits[i - 1]) ? &outcome.hits[i - 1] : nullptr;
        const Before before = soundsBefore(hit, previous, strokes->starts, oneHit);
        for (LeadInFigure& figure : advice.figures) {
            const FrameCount leadIn =
                std::max(toFrames(figure.leadIn, session.rate), toFrames(keptBefore, session.rate));
            figure.cutsOff += before.own > leadIn;
            figure.letsIn += before.foreign < leadIn + whole;
        }
    }
    const auto does = [](const LeadInFigure& figure) { return figure.cutsOff + figure.letsIn; };
    const auto least = std::min_element(advice.figures.begin(), advice.figures.end(),
                                        [&](const auto& a, const auto& b) { return does(a) < does(b); });
    const auto usual = std::find_if(advice.figures.begin(), advice.figures.end(), [](const LeadInFigure& figure) {
        return figure.leadIn.value == limits::leadIn.defaultValue;
    });
    advice.suggested = (usual != advice.figures.end() && does(*usual) == does(*least) ? *usual : *least).leadIn;
    return advice;
}

} // namespace lampo
