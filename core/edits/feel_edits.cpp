#include "edits/feel_edits.h"

#include "base/text.h"
#include "edits/overloaded.h"
#include "session/refusals.h"

#include <algorithm>
#include <fmt/core.h>

namespace lampo {
namespace {

auto placeOf(Session& session, const std::string& name) {
    return std::find_if(session.feels.begin(), session.feels.end(),
                        [&](const Feel& feel) { return feel.name == name; });
}

Expected<void> keep(Session& session, const Feel& feel) {
    if (!isFeel(feel))
        return refuse("A feel has a name, and its places lie in the bar in the order they are played");
    if (const auto known = placeOf(session, feel.name); known != session.feels.end())
        *known = feel;
    else
        session.feels.push_back(feel);
    return {};
}

Expected<void> rename(Session& session, const RenameFeel& e) {
    const auto feel = placeOf(session, e.from);
    if (feel == session.feels.end() || e.to.empty())
        return noSuch("feel");
    if (e.to != e.from && session.feelNamed(e.to))
        return refuse("Another feel has this name already");
    feel->name = e.to;
    if (session.timing.feel.name == e.from)
        session.timing.feel.name = e.to;
    for (Section& section : session.sections)
        if (section.feel && section.feel->name == e.from)
            section.feel->name = e.to;
    return {};
}

Expected<void> drop(Session& session, const DeleteFeel& e) {
    const auto feel = placeOf(session, e.name);
    if (feel == session.feels.end())
        return noSuch("feel");
    session.feels.erase(feel);
    if (session.timing.feel.name == e.name)
        session.timing.feel = {};
    for (Section& section : session.sections)
        if (section.feel && section.feel->name == e.name)
            section.feel.reset();
    return {};
}

Expected<void> use(Session& session, const UseFeel& e) {
    if (e.section && *e.section >= session.sections.size())
        return noSuch("section");
    if (e.use && !e.use->straight() && !session.feelNamed(e.use->name))
        return noSuch("feel");
    if (auto fits = inRange(e.use.value_or(FeelUse{}).amount, limits::feelAmount, "The amount of a feel"); !fits)
        return fits;
    if (e.section)
        session.sections[*e.section].feel = e.use;
    else
        session.timing.feel = e.use.value_or(FeelUse{});
    return {};
}

Expected<void> follow(Session& session, const std::optional<CompanionLines>& lines) {
    if (lines && std::none_of(session.companions.begin(), session.companions.end(),
                              [&](const Companion& companion) { return companion.name == lines->name; }))
        return noSuch("companion");
    const CompanionLines asked = lines.value_or(CompanionLines{});
    return inRange(asked.near.value, limits::companionNear, "How near a companion's attack is")
        .and_then([&] { return inRange(asked.threshold.value, limits::threshold, "A companion's threshold"); })
        .map([&] { session.companionLines = lines; });
}

} // namespace

Expected<void> apply(const FeelEdit& edit, Session& session) {
    return std::visit(Overloaded{[&](const KeepFeel& e) { return keep(session, e.feel); },
                                 [&](const RenameFeel& e) { return rename(session, e); },
                                 [&](const DeleteFeel& e) { return drop(session, e); },
                                 [&](const UseFeel& e) { return use(session, e); },
                                 [&](const FollowCompanion& e) { return follow(session, e.lines); }},
                      edit);
}

std::string describe(const Session&, const FeelEdit& edit) {
    return std::visit(Overloaded{[](const KeepFeel& e) { return "Keep the feel " + e.feel.name; },
                                 [](const RenameFeel& e) { return "Rename the feel " + e.from; },
                                 [](const DeleteFeel& e) { return "Delete the feel " + e.name; },
                                 [](const UseFeel& e) {
                                     if (!e.use)
                                         return std::string(e.section ? "Feel as in the song" : "No feel");
                                     return e.use->straight() ? std::string("No feel")
                                                              : fmt::format("Feel {} {} %", e.use->name,
                                                                            trimmedNumber(e.use->amount, 0));
                                 },
                                 [](const FollowCompanion& e) {
                                     return e.lines ? fmt::format("Land on {} within {} ms", e.lines->name,
                                                                  trimmedNumber(e.lines->near.value, 0))
                                                    : std::string("Land on the grid alone");
                                 }},
                      edit);
}

} // namespace lampo
