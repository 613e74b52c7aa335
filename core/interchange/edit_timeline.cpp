#include "interchange/edit_timeline.h"

#include "map/musical_map.h"

#include <algorithm>
#include <set>

namespace lampo {
namespace {

/// The kind of the seam that begins in a stretch.
std::string kindAt(const Plan& plan, ResultFrame begin) {
    const auto seam = std::lower_bound(plan.seams.begin(), plan.seams.end(), begin,
                                       [](const Seam& each, ResultFrame at) { return each.range.begin < at; });
    return seam != plan.seams.end() && seam->range.begin == begin ? std::string(name(seam->kind)) : "";
}

LaneItem silence(Range<ResultFrame> range) {
    LaneItem item;
    item.range = range;
    item.silent = true;
    return item;
}

/// The segments, with the holes between them: the same for every mic.
std::vector<LaneItem> segmentItems(const Session& session, const Plan& plan) {
    std::vector<LaneItem> items;
    ResultFrame at{0};
    const ResultFrame end = ResultFrame{0} + plan.length;
    for (std::size_t i = 0; i < plan.segments.size(); ++i) {
        const Segment& segment = plan.segments[i];
        const ResultFrame begin = segment.sounds.begin;
        const Segment* next = i + 1 < plan.segments.size() ? &plan.segments[i + 1] : nullptr;
        if (begin > at) {
            items.push_back(silence({at, begin}));
            if (i > 0 && plan.segments[i - 1].fadeOut > FrameCount{})
                items.back().in = Dissolve{plan.segments[i - 1].fadeOut,
                                           {},
                                           plan.segments[i - 1].curve,
                                           {},
                                           kindAt(plan, at - plan.segments[i - 1].fadeOut)};
        }
        LaneItem item;
        item.range = {begin, next ? std::min(segment.sounds.end, std::max(begin, next->sounds.begin))
                                  : segment.sounds.end};
        item.take = session.takes[segment.take].letter.text();
        item.from = segment.sourceAt(begin);
        if (segment.stretch) {
            item.tail = segment.stretch->tail;
            item.over = segment.stretch->over;
        }
        if (segment.fadeIn > FrameCount{})
            item.in = Dissolve{{}, segment.fadeIn, segment.curve, segment.likeness, kindAt(plan, begin)};
        if (!item.range.empty())
            items.push_back(item);
        at = std::max(at, next ? std::min(segment.sounds.end, next->sounds.begin) : segment.sounds.end);
        if (next && next->sounds.begin >= segment.sounds.end)
            at = segment.sounds.end;
    }
    const FrameCount fadeOut = plan.segments.empty() ? FrameCount{} : plan.segments.back().fadeOut;
    if (at < end || fadeOut > FrameCount{})
        items.push_back(silence({at, end}));
    if (fadeOut > FrameCount{})
        items.back().in = Dissolve{fadeOut, {}, plan.segments.back().curve, {}, kindAt(plan, at - fadeOut)};
    return items;
}

/// An item from some frame of its stretch on.
LaneItem rest(const LaneItem& item, ResultFrame from) {
    LaneItem later = item;
    later.range.begin = from;
    later.in.reset();
    if (!item.silent) {
        later.from =
            item.tail ? Stretch{*item.tail, *item.over}.sourceAt(from) : item.from + (from - item.range.begin);
    }
    return later;
}

/// So that one item begins at `at`; no fade crosses it.
void cutAt(std::vector<LaneItem>& items, ResultFrame at) {
    const auto found = std::find_if(items.begin(), items.end(), [&](const LaneItem& item) {
        return item.range.begin < at && at < item.range.end;
    });
    if (found == items.end())
        return;
    const LaneItem later = rest(*found, at);
    found->range.end = at;
    if (found->in)
        found->in->after = std::min(found->in->after, found->range.length());
    items.insert(found + 1, later);
}

/// What a patch says instead, on one mic.
void layOver(std::vector<LaneItem>& items, const Session& session, const PlannedPatch& patch) {
    const Range<ResultFrame> over = patch.sounds;
    cutAt(items, over.begin);
    cutAt(items, over.end);
    const auto first = std::find_if(items.begin(), items.end(),
                                    [&](const LaneItem& item) { return item.range.begin >= over.begin; });
    auto last =
        std::find_if(first, items.end(), [&](const LaneItem& item) { return item.range.begin >= over.end; });
    if (first == last)
        return;
    std::vector<LaneItem> inside(first, last);
    if (patch.from) {
        LaneItem item;
        item.range = {inside.front().range.begin, inside.back().range.end};
        item.take = session.takes[patch.from->take].letter.text();
        item.from = item.range.begin - patch.from->shift;
        inside = {item};
    }
    for (LaneItem& item : inside)
        item.gain *= static_cast<double>(patch.gain);
    inside.front().in = Dissolve{{}, patch.fadeIn};
    const auto place = items.erase(first, last);
    const auto behind = items.insert(place, inside.begin(), inside.end()) + std::ssize(inside);
    if (behind != items.end())
        behind->in = Dissolve{patch.fadeOut, {}};
}

Lane laneOf(const Session& session, const Plan& plan, MicIndex mic, const std::vector<LaneItem>& segments) {
    Lane lane{session.mics[mic].stem, segments};
    for (const PlannedPatch& patch : plan.patches)
        if ((patch.mics & onlyMic(mic)) != 0)
            layOver(lane.items, session, patch);
    for (LaneItem& item : lane.items) {
        const auto take = item.silent ? std::nullopt : session.takeLettered(*TakeLetter::of(item.take.front()));
        if (take && session.takes[*take].files[mic].empty()) {
            const auto in = item.in;
            item = silence(item.range);
            item.in = in;
        }
    }
    return lane;
}

} // namespace

EditTimeline timelineOf(const Session& session, const Plan& plan) {
    EditTimeline timeline{session.title, session.rate, {}, {}, {}};
    const std::vector<LaneItem> segments = segmentItems(session, plan);
    std::set<std::string> takes;
    for (MicIndex mic; mic < session.mics.size(); ++mic) {
        timeline.lanes.push_back(laneOf(session, plan, mic, segments));
        for (const LaneItem& item : timeline.lanes.back().items)
            if (!item.silent)
                takes.insert(item.take);
    }
    for (const Take& take : session.takes)
        for (MicIndex mic; mic < session.mics.size(); ++mic)
            if (takes.contains(take.letter.text()) && !take.files[mic].empty())
                timeline.media.push_back(
                    {take.letter.text(), session.mics[mic].stem, take.files[mic], take.length});
    const MusicalMap map(session.map, session.rate);
    const Range<ResultFrame> song{ResultFrame{0}, ResultFrame{0} + plan.length};
    for (const Section& section : session.sections) {
        const Range<SongFrame> range = rangeOf(section, map);
        const auto inSong = song.intersected({asResult(range.begin), asResult(range.end)});
        if (!section.name.empty() && !inSong.empty())
            timeline.markers.push_back({section.name, inSong});
    }
    return timeline;
}

} // namespace lampo
