#include "edits/take_edits.h"

#include "base/text.h"
#include "edits/overloaded.h"
#include "edits/spoken_of.h"
#include "map/musical_map.h"
#include "session/bars.h"
#include "session/refusals.h"

#include <algorithm>
#include <fmt/core.h>

namespace lampo {
namespace {

constexpr int maxBarsAtOnce = 1000;

SongFrame endOf(const Session& session) {
    return SongFrame{0} + session.length();
}

Expected<void> checkRange(const Session& session, Range<SongFrame> range) {
    if (session.empty() || range.empty() || range.begin.frame < 0 || range.begin >= SongFrame{0} + session.extent())
        return refuse("The range lies outside the song");
    return {};
}

bool known(const Session& session, const Passage& passage) {
    return !passage.take || *passage.take < session.takes.size();
}

Expected<void> lay(Session& session, Range<SongFrame> range, const std::vector<Passage>& passages) {
    if (auto checked = checkRange(session, range); !checked)
        return checked;
    const bool ascend = std::is_sorted(passages.begin(), passages.end(),
                                       [](const Passage& a, const Passage& b) { return a.begin < b.begin; });
    if (passages.empty() || !ascend || passages.front().begin != range.begin ||
        passages.back().begin >= range.end ||
        !std::all_of(passages.begin(), passages.end(), [&](const Passage& p) { return known(session, p); }))
        return noSuch("take");
    session.comp = laid(session.comp, range, passages, endOf(session));
    return {};
}

Expected<void> moveBorder(Session& session, const MoveBorder& e) {
    auto& passages = session.comp.passages;
    if (e.passage == 0 || e.passage >= passages.size())
        return noSuch("border");
    const SongFrame earliest = passages[e.passage - 1].begin + FrameCount{1};
    const SongFrame latest =
        (e.passage + 1 < passages.size() ? passages[e.passage + 1].begin : endOf(session)) - FrameCount{1};
    const SongFrame to = std::clamp(e.to, earliest, std::max(earliest, latest));
    for (BorderFade& fade : session.comp.fades)
        if (fade.border == passages[e.passage].begin)
            fade.border = to;
    passages[e.passage].begin = to;
    return {};
}

Expected<void> setBorderFade(Session& session, const SetBorderFade& e) {
    const auto lasts = e.fade.value_or(Milliseconds{limits::borderFade.defaultValue});
    if (auto fits = inRange(lasts.value, limits::borderFade, "A border's fade"); !fits)
        return fits;
    auto& fades = session.comp.fades;
    std::erase_if(fades, [&](const BorderFade& fade) { return fade.border == e.border; });
    if (e.fade)
        fades.push_back({e.border, *e.fade});
    std::sort(fades.begin(), fades.end(), [](const auto& a, const auto& b) { return a.border < b.border; });
    return {};
}

Expected<void> checkBars(const Session& session, int first, int bars) {
    if (session.empty() || bars < 1 || bars > maxBarsAtOnce)
        return refuse(fmt::format("The number of bars goes from 1 to {}", maxBarsAtOnce));
    const SongFrame begin = MusicalMap(session.map, session.rate).barStart(first);
    if (first < 1 || begin.frame < 0 || begin >= endOf(session))
        return noSuch("bar in the song");
    return {};
}

Expected<void> onTake(Session& session, TakeIndex take, auto&& change) {
    if (take >= session.takes.size())
        return noSuch("take");
    change(session.takes[take]);
    return {};
}

Expected<void> rate(Session& session, const Rate& e) {
    if (!session.takeLettered(e.take))
        return noSuch("take");
    if (e.marks < 0 || e.marks > maxMarks || e.bars < 1 || e.bars > maxBarsAtOnce)
        return refuse("A bar gets 0 to 3 marks");
    auto& ratings = session.ratings;
    std::erase_if(ratings, [&](const Rating& r) {
        return r.take == e.take && e.firstBar <= r.bar && r.bar < e.firstBar + e.bars;
    });
    for (int bar = e.firstBar; e.marks > 0 && bar < e.firstBar + e.bars; ++bar)
        ratings.push_back({e.take, bar, e.marks});
    std::sort(ratings.begin(), ratings.end(),
              [](const Rating& a, const Rating& b) { return std::pair(a.bar, a.take) < std::pair(b.bar, b.take); });
    return {};
}

Expected<void> keepTry(Session& session, const KeepTry& e) {
    if (auto checked = checkRange(session, e.range); !checked)
        return checked;
    const Try kept{e.range, session.comp.inside(e.range)};
    if (std::find(session.tries.begin(), session.tries.end(), kept) != session.tries.end())
        return refuse("This is kept already");
    session.tries.push_back(kept);
    return {};
}

tl::unexpected<Error> versionWantsName() {
    return refuse("A version wants a name");
}

Expected<void> keepVersion(Session& session, const KeepVersion& e) {
    if (e.name.empty())
        return versionWantsName();
    if (session.versions.size() >= limits::versions)
        return refuse(fmt::format("There are {} versions already; delete some first", limits::versions));
    auto kept = std::make_shared<Session>(session);
    kept->versions.clear();
    session.versions.push_back({e.name, e.kept, e.print, std::move(kept)});
    return {};
}

template <class List>
Expected<void> onOne(List& list, std::size_t index, const char* what, auto&& change) {
    if (index >= list.size())
        return noSuch(what);
    change(list.begin() + static_cast<std::ptrdiff_t>(index));
    return {};
}

std::string barsText(int first, int bars) {
    return bars == 1 ? fmt::format("bar {}", first) : fmt::format("bars {} to {}", first, first + bars - 1);
}

/// One object, so that each edit is applied to the same session.
struct TakeEditor {
    Session& session;

    Expected<void> operator()(const ChooseTake& e) {
        return onTake(session, e.take, [&](Take&) { session.comp = {{Passage{SongFrame{0}, e.take, {}}}, {}}; });
    }
    Expected<void> operator()(const Lay& e) {
        return lay(session, e.range, {Passage{e.range.begin, e.take, e.graft}});
    }
    Expected<void> operator()(const LayPassages& e) { return lay(session, e.range, e.passages); }
    Expected<void> operator()(const MoveBorder& e) { return moveBorder(session, e); }
    Expected<void> operator()(const SetBorderFade& e) { return setBorderFade(session, e); }
    Expected<void> operator()(const InsertBars& e) {
        return checkBars(session, e.before, e.bars).map([&] {
            session = withBars(std::move(session), e.before, e.bars, false);
        });
    }
    Expected<void> operator()(const RepeatBars& e) {
        return checkBars(session, e.first, e.bars).map([&] {
            session = withBars(std::move(session), e.first + e.bars, e.bars, true);
        });
    }
    Expected<void> operator()(const DeleteBars& e) {
        return checkBars(session, e.first, e.bars).map([&] {
            session = withoutBars(std::move(session), e.first, e.bars);
        });
    }
    Expected<void> operator()(const SetTakeStart& e) {
        return onTake(session, e.take, [&](Take& take) { take.start = e.start; });
    }
    Expected<void> operator()(const SetTakeNote& e) {
        return onTake(session, e.take, [&](Take& take) { take.note = e.note; });
    }
    Expected<void> operator()(const SetTakeTint& e) {
        return onTake(session, e.take, [&](Take& take) { take.tint = e.tint; });
    }
    Expected<void> operator()(const Rate& e) { return rate(session, e); }
    Expected<void> operator()(const KeepTry& e) { return keepTry(session, e); }
    Expected<void> operator()(const LayTry& e) {
        if (e.index >= session.tries.size())
            return noSuch("try");
        const Try kept = session.tries[e.index];
        return lay(session, kept.range, kept.passages);
    }
    Expected<void> operator()(const DeleteTry& e) {
        return onOne(session.tries, e.index, "try", [&](auto kept) { session.tries.erase(kept); });
    }
    Expected<void> operator()(const KeepVersion& e) { return keepVersion(session, e); }
    Expected<void> operator()(const RenameVersion& e) {
        if (e.name.empty())
            return versionWantsName();
        return onOne(session.versions, e.version, "version", [&](auto version) { version->name = e.name; });
    }
    Expected<void> operator()(const DuplicateVersion& e) {
        if (e.name.empty())
            return versionWantsName();
        return onOne(session.versions, e.version, "version", [&](auto version) {
            const Version copy{e.name, version->kept, {}, version->session};
            session.versions.push_back(copy);
        });
    }
    Expected<void> operator()(const DeleteVersion& e) {
        return onOne(session.versions, e.version, "version",
                     [&](auto version) { session.versions.erase(version); });
    }
    Expected<void> operator()(const RestoreVersion& e) {
        return onOne(session.versions, e.version, "version", [&](auto version) {
            auto versions = session.versions;
            session = Session(*version->session);
            session.versions = std::move(versions);
        });
    }
};

} // namespace

Expected<void> apply(const TakeEdit& edit, Session& session) {
    return std::visit(TakeEditor{session}, edit);
}

std::string describe(const Session& session, const TakeEdit& edit) {
    const MusicalMap map(session.map, session.rate.hz > 0 ? session.rate : SampleRate{48000});
    const auto letter = [&](std::optional<TakeIndex> take) {
        return take ? takeName(session, *take) : std::string("silence");
    };
    const auto place = [&](SongFrame at) {
        const BarBeat where = map.barBeat(at);
        return where.beat < 1.005 ? fmt::format("bar {}", where.bar)
                                  : fmt::format("bar {} beat {}", where.bar, trimmedNumber(where.beat, 2));
    };
    const auto version = [&](std::size_t index) {
        return index < session.versions.size() ? session.versions[index].name : std::string("a version");
    };
    return std::visit(
        Overloaded{[&](const ChooseTake& e) { return fmt::format("T{} throughout", letter(e.take).substr(1)); },
                   [&](const Lay& e) {
                       return fmt::format("{}{} at {}", e.graft ? "Graft from " : "Lay ", letter(e.take),
                                          place(e.range.begin));
                   },
                   [](const LayPassages& e) { return e.what; },
                   [&](const MoveBorder& e) { return "Border to " + place(e.to); },
                   [](const SetBorderFade& e) {
                       return e.fade ? fmt::format("Fade of a border {} ms", trimmedNumber(e.fade->value, 1))
                                     : std::string("Fade of a border as all seams");
                   },
                   [](const InsertBars& e) {
                       return fmt::format("Insert {} before bar {}", counted(e.bars, "bar"), e.before);
                   },
                   [](const RepeatBars& e) { return "Repeat " + barsText(e.first, e.bars); },
                   [](const DeleteBars& e) { return "Delete " + barsText(e.first, e.bars); },
                   [&](const SetTakeStart& e) { return "Start of " + letter(e.take); },
                   [&](const SetTakeNote& e) { return "Note on " + letter(e.take); },
                   [&](const SetTakeTint& e) { return "Tint of " + letter(e.take); },
                   [&](const Rate& e) {
                       return fmt::format("Rate {} of take {}", barsText(e.firstBar, e.bars), e.take.text());
                   },
                   [&](const KeepTry& e) { return "Keep a try at " + place(e.range.begin); },
                   [&](const LayTry& e) {
                       return "Lay a try" + (e.index < session.tries.size()
                                                 ? " at " + place(session.tries[e.index].range.begin)
                                                 : std::string{});
                   },
                   [](const DeleteTry&) { return std::string("Delete a try"); },
                   [](const KeepVersion& e) { return "Keep version " + e.name; },
                   [](const RenameVersion& e) { return "Call a version " + e.name; },
                   [&](const DuplicateVersion& e) { return "Duplicate version " + version(e.version); },
                   [&](const DeleteVersion& e) { return "Delete version " + version(e.version); },
                   [&](const RestoreVersion& e) { return "Back to version " + version(e.version); }},
        edit);
}

} // namespace lampo
