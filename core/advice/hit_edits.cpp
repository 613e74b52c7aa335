#include "advice/hit_edits.h"

#include "session/refusals.h"
#include "timing/target_lines.h"

#include <algorithm>

namespace lampo {
namespace {

constexpr const char* chooseFirst = "Choose a hit first: click it, or step through them with the arrow keys";

template <class Correcting>
Expected<Edit> forEach(std::span<const HitIndex> chosen, Correcting&& correcting) {
    if (chosen.empty())
        return refuse(chooseFirst);
    std::vector<Correction> corrections;
    for (const HitIndex hit : chosen)
        corrections.push_back(correcting(hit));
    return Edit{Correct{std::move(corrections)}};
}

} // namespace

Expected<HandPassage> passageOf(const Session& session, const Outcome& outcome, std::span<const HitIndex> chosen) {
    if (chosen.empty())
        return refuse(chooseFirst);
    const std::size_t first = chosen.front(), last = chosen.back();
    const SongHit& begin = outcome.hits[first];
    const SongHit& end = outcome.hits[last];
    if (!begin.besideInItsTake(end))
        return refuse("The chosen hits are of two takes: choose those of one");
    // Half-way to the neighbours, at most as far as a correction speaks.
    FrameCount before = correctionTolerance(session.rate), behind = before;
    if (first > 0 && outcome.hits[first - 1].besideInItsTake(begin))
        before = std::min(before, FrameCount{(begin.found() - outcome.hits[first - 1].found()).frames / 2});
    if (last + 1 < outcome.hits.size() && outcome.hits[last + 1].besideInItsTake(end))
        behind = std::min(behind, FrameCount{(outcome.hits[last + 1].found() - end.found()).frames / 2});
    return HandPassage{first,
                       last,
                       session.takes[begin.take].letter,
                       {begin.found() - before, end.found() + behind + FrameCount{1}}};
}

Expected<Edit> phraseEdit(const Session& session, const Outcome& outcome, std::span<const HitIndex> chosen,
                          double ease) {
    return passageOf(session, outcome, chosen).and_then([&](const HandPassage& passage) -> Expected<Edit> {
        if (passage.last < passage.first + 2)
            return refuse("A phrase has three hits or more: Shift and click chooses up to there");
        return Edit{HandEdit{MakePhrase{
            {passage.take, outcome.hits[passage.first].found(), outcome.hits[passage.last].found(), ease}}}};
    });
}

std::optional<std::size_t> phraseAt(const Session& session, const Outcome& outcome, HitIndex hit) {
    const TakePlace place = placeOf(session, outcome.hits[hit]);
    const FrameCount tolerance = correctionTolerance(session.rate);
    for (std::size_t i = 0; i < session.phrases.size(); ++i) {
        const Phrase& phrase = session.phrases[i];
        if (phrase.take == place.take && phrase.first - tolerance <= place.at &&
            place.at <= phrase.last + tolerance)
            return i;
    }
    return std::nullopt;
}

Expected<Edit> shoveEdit(const Session& session, const Outcome& outcome, std::span<const HitIndex> chosen,
                         FrameCount by) {
    return passageOf(session, outcome, chosen).map([&](const HandPassage& passage) {
        return Edit{HandEdit{Shove{{passage.take, passage.range, by}}}};
    });
}

Expected<Edit> slipEdit(const Session& session, const Outcome& outcome, std::span<const HitIndex> chosen,
                        FrameCount by) {
    return passageOf(session, outcome, chosen).map([&](const HandPassage& passage) {
        return Edit{HandEdit{Slip{{passage.take, passage.range, by}}}};
    });
}

Expected<Edit> clearByHandEdit(const Session& session, const Outcome& outcome, std::span<const HitIndex> chosen) {
    return passageOf(session, outcome, chosen).map([&](const HandPassage& passage) {
        return Edit{HandEdit{ClearByHand{passage.take, passage.range}}};
    });
}

Expected<Edit> sendEdit(const Session& session, const Outcome& outcome, std::span<const HitIndex> chosen,
                        int lines) {
    if (chosen.empty())
        return refuse(chooseFirst);
    const MusicalMap map(session.map, session.rate);
    const auto place = [&](HitIndex hit) {
        const Landing& landing = outcome.landings[hit];
        return landing.line ? landing.line->frame : asSong(landing.at);
    };
    const Range<SongFrame> around{map.barStart(map.barAt(place(chosen.front())) - 2),
                                  map.barStart(map.barAt(place(chosen.back())) + 3)};
    const auto all = targetLines(session, map, around, *outcome.attacks);
    return forEach(chosen, [&](HitIndex hit) {
        const auto now = static_cast<std::int64_t>(nearestLine(place(hit), all));
        const auto wanted = static_cast<std::size_t>(
            std::clamp<std::int64_t>(now + lines, 0, static_cast<std::int64_t>(all.size()) - 1));
        const SongHit& found = outcome.hits[hit];
        Correction correction = correctionOf(session, found, Correction::Kind::line);
        correction.moved = all[wanted].frame - (found.found() + found.shift);
        return correction;
    });
}

Expected<Edit> nudgeEdit(const Session& session, const Outcome& outcome, std::span<const HitIndex> chosen,
                         FrameCount by) {
    return forEach(
        chosen, [&](HitIndex hit) { return landedAt(session, outcome.hits[hit], outcome.landings[hit].at + by); });
}

Expected<Edit> stepNudgeEdit(const Session& session, const Outcome& outcome, std::span<const HitIndex> chosen,
                             int steps) {
    const MusicalMap map(session.map, session.rate);
    return forEach(chosen, [&](HitIndex hit) {
        const Landing& landing = outcome.landings[hit];
        const BarBeat place = map.barBeat(asSong(landing.at));
        const double step = session.timingAt(place).grid.ofWhole();
        const double wholes = (place.beat - 1) / map.meterOf(place.bar).unit;
        const FrameCount by = map.at(place.bar, wholes + steps * step) - map.at(place.bar, wholes);
        return landedAt(session, outcome.hits[hit], landing.at + by);
    });
}

} // namespace lampo
