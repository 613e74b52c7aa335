#include "session/differences.h"

#include "base/text.h"
#include "map/musical_map.h"
#include "session/pieces.h"

#include <algorithm>
#include <fmt/core.h>
#include <set>

namespace lampo {
namespace {

class Comparison {
public:
    Comparison(const Session& earlier, const Session& later)
        : a_(earlier), b_(later), map_(later.map, later.rate) {}

    std::vector<Difference> run() {
        takes();
        song();
        timing();
        seams();
        mics();
        corrections();
        return std::move(found_);
    }

private:
    void say(std::string words, std::vector<Range<SongFrame>> where = {}) {
        found_.push_back({std::move(words), std::move(where)});
    }
    void from(const std::string& what, const std::string& before, const std::string& now) {
        if (before != now)
            say(fmt::format("{}: {}, was {}", what, now, before));
    }

    static std::string soundOf(const Session& session, const Piece* piece) {
        if (!piece || !piece->take)
            return "silence";
        const bool own = ownShift(session, *piece->take, piece->range.begin) == piece->shift;
        return std::string(own ? "take " : "a graft from take ") + session.takes[*piece->take].letter.text();
    }

    /// Goes along both songs from change to change.
    void takes() {
        const auto before = piecesOf(a_), now = piecesOf(b_);
        std::set<SongFrame> places;
        for (const auto* pieces : {&before, &now})
            for (const Piece& piece : *pieces) {
                places.insert(piece.range.begin);
                places.insert(piece.range.end);
            }
        const auto at = [](const std::vector<Piece>& pieces, SongFrame place) -> const Piece* {
            for (const Piece& piece : pieces)
                if (piece.range.contains(place))
                    return &piece;
            return nullptr;
        };
        std::string lastWords;
        for (auto place = places.begin(); place != places.end() && std::next(place) != places.end(); ++place) {
            const Piece* was = at(before, *place);
            const Piece* is = at(now, *place);
            const bool same = was && is ? was->take == is->take && was->shift == is->shift : was == is;
            if (same) {
                lastWords.clear();
                continue;
            }
            const Range<SongFrame> range{*place, *std::next(place)};
            const std::string words = fmt::format("{}, was {}", soundOf(b_, is), soundOf(a_, was));
            if (words == lastWords) {
                found_.back().where.back().end = range.end;
            } else {
                say({}, {range});
                takeWords_.push_back({found_.size() - 1, words});
            }
            lastWords = words;
        }
        for (const auto& [index, words] : takeWords_)
            found_[index].words = fmt::format("{}: {}", barsOf(found_[index].where.front()), words);
    }

    std::string barsOf(Range<SongFrame> range) const {
        const BarBeat begin = map_.barBeat(range.begin), end = map_.barBeat(range.end);
        const auto place = [](const BarBeat& at) {
            return at.beat < 1.005 ? std::to_string(at.bar)
                                   : fmt::format("{}.{}", at.bar, trimmedNumber(at.beat, 2));
        };
        const int last = end.beat < 1.005 ? end.bar - 1 : end.bar;
        if (begin.beat < 1.005 && end.beat < 1.005)
            return last == begin.bar ? "Bar " + place(begin) : fmt::format("Bars {} to {}", place(begin), last);
        return fmt::format("From {} to {}", place(begin), place(end));
    }

    void song() {
        from("Length", fmt::format("{} s", trimmedNumber(toSeconds(a_.length(), a_.rate).value, 2)),
             fmt::format("{} s", trimmedNumber(toSeconds(b_.length(), b_.rate).value, 2)));
        if (a_.takes.size() != b_.takes.size())
            say(fmt::format("{}, was {}", counted(b_.takes.size(), "take"), a_.takes.size()));
        for (TakeIndex take; take < std::min(a_.takes.size(), b_.takes.size()); ++take)
            if (a_.takes[take].start != b_.takes[take].start)
                say(fmt::format("Take {} starts elsewhere", b_.takes[take].letter.text()));
        if (a_.map.origin != b_.map.origin)
            say("Bar 1 lies elsewhere");
        if (a_.map.tempos != b_.map.tempos)
            from("Tempo",
                 fmt::format("{} BPM{}", trimmedNumber(a_.map.tempos.front().bpm.value, 2), more(a_.map.tempos)),
                 fmt::format("{} BPM{}", trimmedNumber(b_.map.tempos.front().bpm.value, 2), more(b_.map.tempos)));
        if (a_.map.meters != b_.map.meters)
            say("Other meters");
        for (const Section& section : b_.sections) {
            const auto was = std::find_if(a_.sections.begin(), a_.sections.end(),
                                          [&](const Section& s) { return s.name == section.name; });
            const Range<SongFrame> range = rangeOf(section, map_);
            if (was == a_.sections.end())
                say(fmt::format("Section {} is new", section.name), {range});
            else if (!(*was == section))
                say(fmt::format("Section {} is set otherwise", section.name), {range});
        }
        for (const Section& section : a_.sections)
            if (std::none_of(b_.sections.begin(), b_.sections.end(),
                             [&](const Section& s) { return s.name == section.name; }))
                say(fmt::format("Section {} is gone", section.name));
    }

    template <class List>
    static std::string more(const List& list) {
        return list.size() == 1 ? "" : " and " + counted(list.size() - 1, "change");
    }

    void timing() {
        from("Grid", name(a_.timing.grid), name(b_.timing.grid));
        from("Strength", fmt::format("{} %", trimmedNumber(a_.timing.strength, 1)),
             fmt::format("{} %", trimmedNumber(b_.timing.strength, 1)));
        from("Swing", fmt::format("{} %", trimmedNumber(a_.timing.swing, 1)),
             fmt::format("{} %", trimmedNumber(b_.timing.swing, 1)));
        from("Pocket", fmt::format("{} ms", trimmedNumber(a_.timing.pocket.value, 1)),
             fmt::format("{} ms", trimmedNumber(b_.timing.pocket.value, 1)));
        if (a_.timing.pull != b_.timing.pull || a_.timing.reach != b_.timing.reach ||
            a_.timing.drumTimings != b_.timing.drumTimings || a_.assign != b_.assign)
            say("Hits are brought to the grid otherwise");
        const auto felt = [](const Session& session) {
            const FeelUse& use = session.timing.feel;
            return use.straight() ? std::string("none")
                                  : fmt::format("{} {} %", use.name, trimmedNumber(use.amount, 0));
        };
        from("Feel", felt(a_), felt(b_));
        from("Landing on", a_.companionLines ? a_.companionLines->name : "the grid",
             b_.companionLines ? b_.companionLines->name : "the grid");
        if (a_.phrases != b_.phrases)
            say("Other phrases");
        if (a_.shoves != b_.shoves || a_.slips != b_.slips)
            say("Passages are shoved or slipped otherwise");
    }

    void seams() {
        from("Lead-in", fmt::format("{} ms", trimmedNumber(a_.seams.leadIn.value, 1)),
             fmt::format("{} ms", trimmedNumber(b_.seams.leadIn.value, 1)));
        from("Fades", fmt::format("{} ms", trimmedNumber(a_.seams.fade.value, 1)),
             fmt::format("{} ms", trimmedNumber(b_.seams.fade.value, 1)));
        from("Holes", std::string(whatBecomes(a_.seams.fill)), std::string(whatBecomes(b_.seams.fill)));
        from("Shifts warned of", fmt::format("above {} ms", trimmedNumber(a_.seams.farShift.value, 2)),
             fmt::format("above {} ms", trimmedNumber(b_.seams.farShift.value, 2)));
        from("Marked stretches", fmt::format("above {} times", trimmedNumber(a_.seams.mostStretch, 2)),
             fmt::format("above {} times", trimmedNumber(b_.seams.mostStretch, 2)));
        from("Curve of fades", std::string(name(a_.seams.curve)), std::string(name(b_.seams.curve)));
        if (a_.samples != b_.samples)
            say(fmt::format("{} beside the drums, was {}", counted(std::ssize(b_.samples), "sample"),
                            a_.samples.size()));
        if (a_.midi != b_.midi)
            say("Notes have other keys or velocities");
        if (a_.proofAnswers != b_.proofAnswers)
            say(fmt::format("{} answered in the proof, was {}", counted(std::ssize(b_.proofAnswers), "place"),
                            a_.proofAnswers.size()));
        if (!(a_.patches == b_.patches))
            say(fmt::format("{}, was {}", counted(b_.patches.size(), "patch", "patches"), a_.patches.size()));
        if (a_.seamsByHand != b_.seamsByHand)
            say("Other seams by hand");
        if (a_.comp.fades != b_.comp.fades)
            say("Fades of borders");
    }

    void mics() {
        for (const Mic& mic : b_.mics) {
            const auto index = a_.micNamed(mic.stem);
            if (!index) {
                say(fmt::format("Mic {} is new", mic.shownName()));
                continue;
            }
            const Mic& was = a_.mics[*index];
            if (was.guide != mic.guide)
                say(mic.shownName() + (mic.guide ? " guides now" : " only follows now"));
            from("Threshold of " + mic.shownName(), fmt::format("{} dB", trimmedNumber(was.threshold.value, 1)),
                 fmt::format("{} dB", trimmedNumber(mic.threshold.value, 1)));
            if (was.shortestGap != mic.shortestGap || was.judgesBleed != mic.judgesBleed ||
                was.emphasis != mic.emphasis || was.role != mic.role)
                say(mic.shownName() + " is listened to otherwise");
            if (was.level != mic.level || was.mute != mic.mute || was.solo != mic.solo)
                say(mic.shownName() + " is heard at another level");
        }
        if (a_.finest != b_.finest || a_.clusters != b_.clusters)
            say("Hits are gathered otherwise");
    }

    /// Corrections that only one of the two holds, where they sound.
    void corrections() {
        const auto onlyIn = [&](const Session& here, const Session& there, const char* how) {
            std::vector<Range<SongFrame>> where;
            for (const Correction& correction : here.corrections) {
                if (std::find(there.corrections.begin(), there.corrections.end(), correction) !=
                    there.corrections.end())
                    continue;
                const auto take = here.takeLettered(correction.take);
                const auto place =
                    take ? songPlace(here.form, correction.at + here.takes[*take].shift()) : std::nullopt;
                const SongFrame at = place.value_or(SongFrame{0});
                where.push_back({at, at + FrameCount{1}});
            }
            if (!where.empty())
                say(counted(where.size(), "correction") + how, where);
        };
        onlyIn(b_, a_, " more");
        onlyIn(a_, b_, " fewer");
    }

    const Session& a_;
    const Session& b_;
    MusicalMap map_;
    std::vector<Difference> found_;
    std::vector<std::pair<std::size_t, std::string>> takeWords_;
};

} // namespace

std::vector<Difference> differencesOf(const Session& earlier, const Session& later) {
    return Comparison(earlier, later).run();
}

} // namespace lampo
