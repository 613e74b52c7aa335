#include "session/feel_edits.h"

#include "base/text.h"
#include "session/overloaded.h"

#include <algorithm>

namespace lampo {
namespace {

tl::unexpected<Error> refuse(const char* sentence) {
    return fail(ErrorKind::badValue, sentence);
}

auto feelNamed(Session& session, const std::string& name) {
    return std::find_if(session.feels.begin(), session.feels.end(),
                        [&](const Feel& feel) { return feel.name == name; });
}

Expected<void> keep(Session& session, const Feel& feel) {
    if (!isFeel(feel))
        return refuse("A feel has a name, and its places lie in the bar in the order they are played");
    if (const auto known = feelNamed(session, feel.name); known != session.feels.end())
        *known = feel;
    else
        session.feels.push_back(feel);
    return {};
}

Expected<void> rename(Session& session, const RenameFeel& e) {
    const auto feel = feelNamed(session, e.from);
    if (feel == session.feels.end() || e.to.empty())
        return refuse("There is no such feel");
    if (e.to != e.from && feelNamed(session, e.to) != session.feels.end())
        return refuse("Another feel has this name already");
    feel->name = e.to;
    if (session.feel && session.feel->name == e.from)
        session.feel->name = e.to;
    return {};
}

Expected<void> use(Session& session, const std::optional<FeelUse>& use) {
    if (use && feelNamed(session, use->name) == session.feels.end())
        return refuse("There is no such feel");
    if (use && !(0 <= use->amount && use->amount <= 100))
        return refuse("The amount of a feel goes from 0 to 100 %");
    session.feel = use;
    return {};
}

Expected<void> follow(Session& session, const std::optional<CompanionLines>& lines) {
    if (lines && std::none_of(session.companions.begin(), session.companions.end(),
                              [&](const Companion& companion) { return companion.name == lines->name; }))
        return refuse("There is no such companion");
    if (lines && !(1 <= lines->near.value && lines->near.value <= 200))
        return refuse("A companion's attack is near within 1 to 200 ms");
    if (lines && !(-60 <= lines->threshold.value && lines->threshold.value <= 0))
        return refuse("A companion's threshold goes from −60 to 0 dB");
    session.towards = lines;
    return {};
}

} // namespace

Expected<void> apply(const FeelEdit& edit, Session& session) {
    return std::visit(Overloaded{[&](const KeepFeel& e) { return keep(session, e.feel); },
                                 [&](const RenameFeel& e) { return rename(session, e); },
                                 [&](const DropFeel& e) -> Expected<void> {
                                     const auto feel = feelNamed(session, e.name);
                                     if (feel == session.feels.end())
                                         return refuse("There is no such feel");
                                     session.feels.erase(feel);
                                     if (session.feel && session.feel->name == e.name)
                                         session.feel.reset();
                                     return {};
                                 },
                                 [&](const UseFeel& e) { return use(session, e.use); },
                                 [&](const FollowCompanion& e) { return follow(session, e.lines); }},
                      edit);
}

std::string describe(const Session&, const FeelEdit& edit) {
    return std::visit(Overloaded{[](const KeepFeel& e) { return "Keep the feel " + e.feel.name; },
                                 [](const RenameFeel& e) { return "Rename the feel " + e.from; },
                                 [](const DropFeel& e) { return "Drop the feel " + e.name; },
                                 [](const UseFeel& e) {
                                     return e.use ? "Feel " + e.use->name + " " + trimmedNumber(e.use->amount, 0) +
                                                        " %"
                                                  : std::string("No feel");
                                 },
                                 [](const FollowCompanion& e) {
                                     return e.lines ? "Land on " + e.lines->name + " within " +
                                                          trimmedNumber(e.lines->near.value, 0) + " ms"
                                                    : std::string("Land on the grid alone");
                                 }},
                      edit);
}

} // namespace lampo
