#include "advice/borrowed.h"

#include "advice/take_advice.h"
#include "map/musical_map.h"
#include "session/refusals.h"

#include <algorithm>

namespace lampo {
namespace {

/// The song with the stretch laid in for all mics, holes borrowed.
Expected<Session> laidIn(const Session& session, const Outcome& outcome, Range<SongFrame> stretch,
                         BorrowFrom from) {
    Expected<Edit> edit = Edit{Lay{stretch, from.take}};
    if (from.bars != 0) {
        const MusicalMap map(session.map, session.rate);
        const auto moved = [&](SongFrame place) {
            const BarBeat at = map.barBeat(place);
            return map.at({at.bar + from.bars, at.beat});
        };
        edit = graftEdit(session, outcome, {from.take, {moved(stretch.begin), moved(stretch.end)}}, stretch.begin);
    }
    if (!edit)
        return tl::unexpected(edit.error());
    return edited(session, *edit).and_then([](const Session& laid) {
        return edited(laid, SeamEdit{SetFill{Fill::borrow}});
    });
}

/// The hit that lands nearest to a place: unlike what rings behind it, it sounds only once.
const SongHit& nearestHit(const Outcome& outcome, ResultFrame place, ResultFrame& landed) {
    const auto& landings = outcome.landings;
    auto next = std::partition_point(landings.begin(), landings.end(),
                                     [&](const Landing& landing) { return landing.at < place; });
    if (next == landings.end() || (next != landings.begin() && place - std::prev(next)->at < next->at - place))
        --next;
    landed = next->at;
    return outcome.hits[static_cast<std::size_t>(next - landings.begin())];
}

} // namespace

Expected<AddPatches> borrowed(const Session& session, const Analyses& analyses, const Outcome& outcome,
                              Range<ResultFrame> stretch, const std::vector<std::string>& mics, BorrowFrom from) {
    if (stretch.empty())
        return refuse("Draw a stretch in the ruler first: it is borrowed there");
    if (mics.empty())
        return refuse("Choose the mics that borrow the stretch");
    if (outcome.hits.empty() || !outcome.takes[from.take]->strokes)
        return refuse("There are no hits yet that it could be laid on");
    const auto laid = laidIn(session, outcome, {asSong(stretch.begin), asSong(stretch.end)}, from);
    if (!laid)
        return tl::unexpected(laid.error());
    const auto plan = outcomeOf(*laid, analyses, &outcome)->plan;
    const FrameCount shortest = toFrames(Milliseconds{limits::patchFade.low}, session.rate);
    AddPatches edit;
    const Segment* before = nullptr;
    for (const Segment& segment : plan->segments) {
        const auto inside = segment.sounds.intersected(stretch);
        const Range<SourceFrame> recorded{SourceFrame{0}, SourceFrame{session.takes[segment.take].length.frames}};
        if (segment.take != from.take ||
            !recorded.contains(segment.sourceAt(segment.sounds.begin + segment.fadeIn)) ||
            2 * inside.length().frames < segment.sounds.length().frames)
            continue;
        const ResultFrame whole = segment.sounds.begin + segment.fadeIn;
        ResultFrame landed;
        Patch patch;
        patch.kind = PatchKind::borrow;
        patch.mics = mics;
        patch.at = placeOf(session, nearestHit(outcome, whole, landed));
        patch.ofHit = false;
        patch.before = landed - segment.sounds.begin;
        patch.length = segment.sounds.length();
        patch.fadeIn = std::max(toMilliseconds(segment.fadeIn, session.rate), Milliseconds{limits::patchFade.low});
        patch.fadeOut =
            std::max(toMilliseconds(segment.fadeOut, session.rate), Milliseconds{limits::patchFade.low});
        patch.from = TakePlace{session.takes[segment.take].letter, segment.sourceAt(landed)};
        // Under the next one's fade it sounds on, so that nothing of the plan shows between them.
        if (before && before->sounds.end >= segment.sounds.begin && !edit.patches.empty()) {
            edit.patches.back().length = edit.patches.back().length + shortest;
            edit.patches.back().fadeOut = {limits::patchFade.low};
        }
        edit.patches.push_back(patch);
        before = &segment;
    }
    if (edit.patches.empty())
        return refuse("There is nothing there to borrow");
    return edit;
}

} // namespace lampo
