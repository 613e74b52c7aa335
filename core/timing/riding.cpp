#include "timing/riding.h"

#include <algorithm>
#include <cmath>

namespace lampo {
namespace {

/// What lies between the moves of the neighbours, in proportion to when it was played.
struct Between {
    const Landing* before;
    const Landing* after;

    /// `moveOf` a neighbour, in frames.
    FrameCount at(SongFrame played, auto&& moveOf) const {
        if (!before || !after)
            return before || after ? moveOf(before ? *before : *after) : FrameCount{};
        const FrameCount span = after->played - before->played;
        const double along = span > FrameCount{} ? ratio(played - before->played, span) : 0;
        return FrameCount{std::llround(static_cast<double>(moveOf(*before).frames) * (1 - along) +
                                       static_cast<double>(moveOf(*after).frames) * along)};
    }
};

} // namespace

void rideBetween(std::span<Landing> landings, const std::vector<bool>& rides) {
    const auto move = [](const Landing& landing) { return landing.move(); };
    const auto wholeMove = [](const Landing& landing) { return landing.meant - landing.played; };
    std::size_t i = 0;
    while (i < landings.size()) {
        if (!rides[i]) {
            ++i;
            continue;
        }
        std::size_t end = i;
        while (end < landings.size() && rides[end])
            ++end;
        const Between neighbours{i > 0 ? &landings[i - 1] : nullptr,
                                 end < landings.size() ? &landings[end] : nullptr};
        for (; i < end; ++i) {
            Landing& rider = landings[i];
            rider.at = asResult(rider.played) + neighbours.at(rider.played, move);
            rider.meant = rider.played + neighbours.at(rider.played, wholeMove);
        }
    }
}

std::vector<PhraseHits> phrasesOf(const Session& session, const Placed& where, std::span<const Hit> hits) {
    std::vector<PhraseHits> found;
    const auto firstFrom = [&](SourceFrame from) {
        const auto hit =
            std::partition_point(hits.begin(), hits.end(), [&](const Hit& h) { return h.found() < from; });
        return static_cast<std::size_t>(hit - hits.begin());
    };
    const FrameCount tolerance = correctionTolerance(session.rate);
    for (const Phrase& phrase : session.phrases) {
        if (phrase.take != session.takes[where.take].letter)
            continue;
        const std::size_t first = firstFrom(phrase.first - tolerance);
        const std::size_t end = firstFrom(phrase.last + tolerance + FrameCount{1});
        if (end >= first + 3)
            found.push_back({first, end - 1, phrase.ease});
    }
    return found;
}

void keepProportions(const std::vector<PhraseHits>& phrases, std::span<Landing> landings,
                     std::vector<bool>& rides) {
    struct Eased {
        std::size_t hit;
        ResultFrame alone; ///< where it would land by itself
        double ease;
    };
    std::vector<Eased> eased;
    for (const PhraseHits& phrase : phrases)
        for (std::size_t hit = phrase.first + 1; hit < phrase.last; ++hit) {
            if (landings[hit].state == LandingState::pinned)
                continue;
            if (landings[hit].line && phrase.ease > 0)
                eased.push_back({hit, landings[hit].at, phrase.ease / 100});
            landings[hit].state = LandingState::left;
            rides[hit] = true;
        }
    rideBetween(landings, rides);
    for (const Eased& one : eased) {
        Landing& landing = landings[one.hit];
        const FrameCount away = one.alone - landing.at;
        landing.at = landing.at + scaled(away, one.ease);
        rides[one.hit] = false;
    }
    if (!eased.empty()) // what has no line of its own rides between the eased ones
        rideBetween(landings, rides);
}

} // namespace lampo
