#include "project/takes_json.h"

#include "session/validate.h"

#include <algorithm>
#include <fmt/core.h>

namespace lampo {
namespace {

using namespace jsonfields;

constexpr std::int64_t longest = limits::frames;

std::string letterOf(const Session& session, TakeIndex take) {
    return session.takes[take].letter.text();
}

json passageJson(const Session& session, const Passage& passage) {
    json out{{"begin", passage.begin.frame}};
    if (passage.take)
        out["take"] = letterOf(session, *passage.take);
    if (passage.take && passage.graft)
        out["graft"] = passage.graft->frames;
    return out;
}

Passage readPassage(const json& j, const Session& session) {
    Passage passage{SongFrame{whole(j, "begin", 0, longest)}, std::nullopt, {}};
    if (j.contains("take")) {
        passage.take = session.takeLettered(letter(j, "take"));
        if (!passage.take)
            throw Damage{"it speaks of a take that does not exist"};
    }
    if (passage.take && j.contains("graft"))
        passage.graft = FrameCount{whole(j, "graft", -longest, longest)};
    return passage;
}

template <class Part>
void checkFromZero(const std::vector<Part>& parts, SongFrame begin, const char* key) {
    const bool ascend = std::adjacent_find(parts.begin(), parts.end(), [](const Part& a, const Part& b) {
                            return a.begin >= b.begin;
                        }) == parts.end();
    if (parts.empty() || parts.front().begin != begin || !ascend)
        throw Damage{fmt::format("\"{}\" does not go from its begin onwards", key)};
}

Try readTry(const json& j, const Session& session) {
    Try kept{{SongFrame{whole(j, "begin", 0, longest)}, SongFrame{whole(j, "end", 1, longest)}},
             list(j, "passages", [&](const json& p) { return readPassage(p, session); })};
    checkFromZero(kept.passages, kept.range.begin, "tries");
    if (kept.passages.back().begin >= kept.range.end)
        throw Damage{"a try goes beyond its range"};
    return kept;
}

FormPart readPart(const json& j) {
    FormPart part{SongFrame{whole(j, "begin", 0, longest)}, std::nullopt};
    if (j.contains("moved"))
        part.moved = FrameCount{whole(j, "moved", -longest, longest)};
    return part;
}

} // namespace

void writeChoices(const Session& session, json& out) {
    const auto passages = [&](const std::vector<Passage>& all) {
        return listJson(all, [&](const Passage& passage) { return passageJson(session, passage); });
    };
    out["comp"] = passages(session.comp.passages);
    out["border_fades"] = listJson(session.comp.fades, [](const BorderFade& fade) {
        return json{{"at", fade.border.frame}, {"ms", fade.fade.value}};
    });
    out["form"] = listJson(session.form, [](const FormPart& part) {
        json j{{"begin", part.begin.frame}};
        if (part.moved)
            j["moved"] = part.moved->frames;
        return j;
    });
    out["ratings"] = listJson(session.ratings, [](const Rating& rating) {
        return json{{"take", rating.take.text()}, {"bar", rating.bar}, {"marks", rating.marks}};
    });
    out["tries"] = listJson(session.tries, [&](const Try& kept) {
        return json{{"begin", kept.range.begin.frame},
                    {"end", kept.range.end.frame},
                    {"passages", passages(kept.passages)}};
    });
}

void readChoices(const json& j, Session& session) {
    if (!j.contains("comp")) {
        const TakeIndex sounding{static_cast<std::size_t>(whole(j, "sounding", 0, 1000))};
        if (!session.takes.empty() && sounding >= session.takes.size())
            throw Damage{"the sounding take does not exist"};
        session.comp.passages = {Passage{SongFrame{0}, sounding, {}}};
        return;
    }
    session.comp.passages = list(j, "comp", [&](const json& p) {
        return session.takes.empty() ? Passage{SongFrame{whole(p, "begin", 0, longest)}, TakeIndex{}, {}}
                                     : readPassage(p, session);
    });
    checkFromZero(session.comp.passages, SongFrame{0}, "comp");
    session.comp.fades = list(j, "border_fades", [](const json& f) {
        return BorderFade{SongFrame{whole(f, "at", 0, longest)}, {number(f, "ms", limits::borderFade)}};
    });
    session.form = list(j, "form", readPart);
    checkFromZero(session.form, SongFrame{0}, "form");
    session.ratings = list(j, "ratings", [](const json& r) {
        return Rating{letter(r, "take"), static_cast<int>(whole(r, "bar", -limits::bars, limits::bars)),
                      static_cast<int>(whole(r, "marks", 1, maxMarks))};
    });
    session.tries = list(j, "tries", [&](const json& t) { return readTry(t, session); });
}

} // namespace lampo
