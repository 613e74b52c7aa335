#include "comp_option.h"

#include "base/text.h"
#include "import/import_plan.h"
#include "map/musical_map.h"
#include "project/project_file.h"

#include <algorithm>
#include <cctype>
#include <charconv>
#include <fmt/core.h>

namespace lampo::cli {
namespace {

struct Place {
    int bar;
    std::optional<double> beat;
};

/// "9" or "9.3"; beats may have a fraction of their own: "9.3.5" is the middle of beat 3.
std::optional<Place> placeIn(std::string_view text) {
    Place place{};
    const char* end = text.data() + text.size();
    auto read = std::from_chars(text.data(), end, place.bar);
    if (read.ec != std::errc{} || place.bar < 0 || place.bar > limits::bars)
        return std::nullopt;
    if (read.ptr == end)
        return place;
    double beat = 0;
    if (*read.ptr != '.')
        return std::nullopt;
    const auto beatRead = std::from_chars(read.ptr + 1, end, beat, std::chars_format::fixed);
    if (beatRead.ec != std::errc{} || beatRead.ptr != end || !(1 <= beat && beat < 100))
        return std::nullopt;
    place.beat = beat;
    return place;
}

std::optional<CompRange> rangeIn(const std::string& text) {
    const auto colon = text.find(':');
    const auto letter = colon == 1 ? TakeLetter::of(text[0]) : std::nullopt;
    if (!letter)
        return std::nullopt;
    const auto dash = text.find('-', 2);
    const auto begin = placeIn(std::string_view(text).substr(2, dash == std::string::npos ? dash : dash - 2));
    const auto end = dash == std::string::npos ? begin : placeIn(std::string_view(text).substr(dash + 1));
    if (!begin || !end)
        return std::nullopt;
    const BarBeat from{begin->bar, begin->beat.value_or(1)};
    const BarBeat to =
        end->beat && dash != std::string::npos ? BarBeat{end->bar, *end->beat} : BarBeat{end->bar + 1, 1};
    if (std::pair(from.bar, from.beat) >= std::pair(to.bar, to.beat))
        return std::nullopt;
    return CompRange{*letter, from, to};
}

bool before(const BarBeat& a, const BarBeat& b) {
    return std::pair(a.bar, a.beat) < std::pair(b.bar, b.beat);
}

Expected<Session> brought(const Session& session, const TakeOption& option, bool mend,
                          std::vector<std::string>& missing) {
    if (session.takeLettered(option.letter))
        return fail(ErrorKind::badValue,
                    fmt::format("There are two takes {}: give each a letter of its own", option.letter.text()));
    if (!mend)
        if (auto strict = openInput(option.folder); !strict)
            return strict;
    auto plan = planImport({option.folder}, &session);
    if (!plan)
        return tl::unexpected(plan.error());
    for (ImportItem& item : plan->items) {
        item.take = option.letter;
        if (!mend && item.use == ImportItem::Use::mic && item.info.rate != session.rate)
            return fail(ErrorKind::rateDiffers,
                        fmt::format("{} has {} Hz, the other takes {} Hz: convert it first, or use --mend",
                                    quotedName(item.source.file), item.info.rate.hz, session.rate.hz));
    }
    plan->settle();
    auto next = sessionOf(*plan, &session);
    if (next)
        for (MicIndex mic; mic < next->mics.size(); ++mic)
            if (next->takes.back().files[mic].empty())
                missing.push_back(fmt::format("take {} has no file for {}: it is silent there",
                                              option.letter.text(), next->mics[mic].stem));
    return next;
}

} // namespace

std::optional<TakeOption> takeOptionIn(const std::string& text) {
    if (text.size() < 3 || text[1] != '=')
        return std::nullopt;
    const auto letter = TakeLetter::of(text[0]);
    return letter ? std::optional(TakeOption{*letter, text.substr(2)}) : std::nullopt;
}

std::optional<std::vector<CompRange>> compIn(const std::string& text) {
    std::vector<CompRange> ranges;
    for (const std::string& part : split(text, ',')) {
        const auto range = rangeIn(part);
        if (!range)
            return std::nullopt;
        ranges.push_back(*range);
    }
    return ranges;
}

Expected<std::vector<Edit>> editsOf(const std::vector<CompRange>& comp, const Session& session) {
    std::vector<Edit> edits;
    const MusicalMap map(session.map, session.rate);
    const SongFrame songEnd = SongFrame{0} + session.extent();
    const auto byBegin = [](const CompRange& a, const CompRange& b) { return before(a.begin, b.begin); };
    const auto byEnd = [](const CompRange& a, const CompRange& b) { return before(a.end, b.end); };
    const auto earliest = std::min_element(comp.begin(), comp.end(), byBegin);
    const auto latest = std::max_element(comp.begin(), comp.end(), byEnd);
    for (auto range = comp.begin(); range != comp.end(); ++range) {
        const auto take = session.takeLettered(range->take);
        if (!take)
            return fail(ErrorKind::badValue, fmt::format("There is no take {} to lay", range->take.text()));
        const SongFrame begin = map.at(range->begin);
        if (begin >= songEnd)
            return fail(ErrorKind::badValue,
                        fmt::format("Bar {} of the comp lies behind the end of the song", range->begin.bar));
        edits.emplace_back(Lay{{range == earliest ? SongFrame{0} : std::max(begin, SongFrame{0}),
                                range == latest ? songEnd + FrameCount{1} : map.at(range->end)},
                               take});
    }
    return edits;
}

Expected<Session> withTakes(std::optional<Session> session, const std::vector<TakeOption>& takes, bool mend,
                            std::vector<std::string>& missing) {
    Session all = session ? std::move(*session) : Session{};
    for (const TakeOption& option : takes) {
        if (all.empty())
            all.title = option.folder.filename().string();
        auto next = all.empty() && !mend ? openInput(option.folder) : brought(all, option, mend, missing);
        if (!next)
            return next;
        if (all.empty())
            next->takes.front().letter = option.letter;
        all = std::move(*next);
    }
    return all;
}

} // namespace lampo::cli
