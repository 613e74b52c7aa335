#include "session/bars.h"

#include "map/map_edits.h"

#include <algorithm>
#include <functional>

namespace lampo {
namespace {

/// Says for a bar of the new song which bar of the old one it is like.
using OldBar = std::function<int(int bar)>;

bool sameValue(const MeterChange& a, const MeterChange& b) {
    return a.meter == b.meter;
}
bool sameValue(const TempoChange& a, const TempoChange& b) {
    return a.bpm == b.bpm && a.ramp == b.ramp;
}

template <class Change>
std::vector<Change> rebarred(const std::vector<Change>& changes, const OldBar& oldBar, int added) {
    std::vector<Change> next;
    const auto add = [&](const Change& change) {
        if (next.empty() || !sameValue(next.back(), change))
            next.push_back(change);
    };
    for (int bar = 1; bar <= changes.back().bar + std::max(0, added); ++bar) {
        const BarBeat begin{oldBar(bar), 1};
        auto inside = std::upper_bound(changes.begin(), changes.end(), begin,
                                       [](const BarBeat& b, const Change& c) { return b < placeOf(c); });
        Change ruling = inside == changes.begin() ? changes.front() : *std::prev(inside);
        putAtBarLine(ruling, bar);
        add(ruling);
        for (; inside != changes.end() && inside->bar == begin.bar; ++inside) {
            Change again = *inside;
            again.bar = bar;
            add(again);
        }
    }
    return next;
}

void rebar(MapData& map, const OldBar& oldBar, int added) {
    map.meters = rebarred(map.meters, oldBar, added);
    map.tempos = rebarred(map.tempos, oldBar, added);
}

void sortRatings(std::vector<Rating>& ratings) {
    std::sort(ratings.begin(), ratings.end(),
              [](const Rating& a, const Rating& b) { return std::pair(a.bar, a.take) < std::pair(b.bar, b.take); });
}

FrameCount lengthOf(const MapData& map, SampleRate rate, int first, int count) {
    const MusicalMap lines(map, rate);
    return lines.barStart(first + count) - lines.barStart(first);
}

void shift(Try& kept, FrameCount by) {
    kept.range = {kept.range.begin + by, kept.range.end + by};
    for (Passage& passage : kept.passages) {
        passage.begin = passage.begin + by;
        if (passage.graft)
            passage.graft = *passage.graft + by;
    }
}

} // namespace

Session withBars(Session session, int before, int count, bool repeat) {
    const SongFrame at = MusicalMap(session.map, session.rate).barStart(before);
    rebar(
        session.map,
        [&](int bar) { return bar < before                      ? bar
                              : repeat || bar >= before + count ? bar - count
                                                                : before - 1; },
        count);
    const FrameCount length = lengthOf(session.map, session.rate, before, count);
    session.comp = lengthened(session.comp, at, length, repeat);
    session.form = lengthened(session.form, at, length, repeat);
    for (Section& section : session.sections) {
        const int end = section.firstBar + section.bars;
        if (section.firstBar >= before)
            section.firstBar += count;
        else if (end > before || (repeat && end == before))
            section.bars += count;
    }
    std::vector<Rating> repeated;
    for (Rating& rating : session.ratings) {
        if (repeat && before - count <= rating.bar && rating.bar < before)
            repeated.push_back({rating.take, rating.bar + count, rating.marks});
        rating.bar += rating.bar >= before ? count : 0;
    }
    session.ratings.insert(session.ratings.end(), repeated.begin(), repeated.end());
    sortRatings(session.ratings);
    for (Try& kept : session.tries)
        if (kept.range.begin >= at)
            shift(kept, length);
    return session;
}

Session withoutBars(Session session, int first, int count) {
    const MusicalMap lines(session.map, session.rate);
    const Range<SongFrame> cut{lines.barStart(first), lines.barStart(first + count)};
    const SongFrame end = SongFrame{0} + session.length();
    rebar(
        session.map, [&](int bar) { return bar < first ? bar : bar + count; }, 0);
    if (cut.end >= end) {
        session.comp = laid(session.comp, {cut.begin, end}, {Passage{cut.begin, std::nullopt, {}}}, end);
    } else {
        session.comp = shortened(session.comp, cut);
        session.form = shortened(session.form, cut);
    }
    for (Section& section : session.sections) {
        const int sectionEnd = section.firstBar + section.bars;
        const auto moved = [&](int bar) { return bar < first ? bar : std::max(first, bar - count); };
        section.firstBar = moved(section.firstBar);
        section.bars = moved(sectionEnd) - section.firstBar;
    }
    std::erase_if(session.sections, [](const Section& section) { return section.bars <= 0; });
    std::erase_if(session.ratings, [&](const Rating& r) { return first <= r.bar && r.bar < first + count; });
    for (Rating& rating : session.ratings)
        rating.bar -= rating.bar >= first + count ? count : 0;
    std::erase_if(session.tries, [&](const Try& kept) { return !kept.range.intersected(cut).empty(); });
    for (Try& kept : session.tries)
        if (kept.range.begin >= cut.end)
            shift(kept, -cut.length());
    return session;
}

} // namespace lampo
