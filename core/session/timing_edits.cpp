#include "session/timing_edits.h"

#include "base/text.h"
#include "map/place_text.h"
#include "session/in_range.h"
#include "session/map_change.h"
#include "session/overloaded.h"

#include <algorithm>
#include <cmath>
#include <utility>

namespace lampo {
namespace {

Expected<void> refuse(const char* sentence) {
    return fail(ErrorKind::badValue, sentence);
}

/// Gives a setting to the section or to the song.
template <class Value>
Expected<void> set(Session& session, const std::optional<std::size_t>& section, const std::optional<Value>& value,
                   std::optional<Value> Section::*own, Value TimingSettings::*general) {
    if (!section)
        session.timing.*general = value.value_or(TimingSettings{}.*general);
    else if (*section < session.sections.size())
        session.sections[*section].*own = value;
    else
        return refuse("There is no such section");
    return {};
}

Expected<void> setGoing(Session& session, const SetGoing& e) {
    const auto voice = static_cast<std::size_t>(e.voice);
    if (!e.section) {
        session.timing.goings[voice] = e.going;
        return {};
    }
    if (*e.section >= session.sections.size())
        return refuse("There is no such section");
    Goings goings = session.timingIn(session.sections[*e.section]).goings;
    goings[voice] = e.going;
    session.sections[*e.section].goings = goings;
    return {};
}

Expected<void> setReach(Session& session, const SetReach& e) {
    const Reach reach = e.reach.value_or(Reach{});
    if (auto fits = inRange(reach.value, reach.inSteps ? limits::reachInSteps : limits::reach, "The reach"); !fits)
        return fits;
    if (!e.section)
        session.timing.reach = e.reach;
    else if (*e.section < session.sections.size())
        session.sections[*e.section].reach = e.reach;
    else
        return refuse("There is no such section");
    return {};
}

template <class Change>
bool fromBarOne(const std::vector<Change>& changes) {
    return !changes.empty() && placeOf(changes.front()) == BarBeat{} &&
           std::adjacent_find(changes.begin(), changes.end(), [](const Change& a, const Change& b) {
               return placeOf(a) >= placeOf(b);
           }) == changes.end();
}

Expected<void> setMap(Session& session, const MapData& map) {
    if (!fromBarOne(map.tempos) || !fromBarOne(map.meters))
        return refuse("A map begins at bar 1, and has one tempo and one meter at each place");
    for (const TempoChange& change : map.tempos)
        if (auto fits = inRange(change.bpm.value, limits::tempo, "The tempo"); !fits)
            return fits;
    for (const MeterChange& change : map.meters)
        if (!isMeter(change.meter))
            return refuse("A meter has 1 to 32 beats of 1, 2, 4, 8, 16 or 32");
    const MusicalMap lines(map, session.rate);
    for (const TempoChange& change : map.tempos)
        if (!(1 <= change.beat && change.beat < lines.meterOf(change.bar).beats + 1))
            return fail(ErrorKind::badValue,
                        "The change of tempo at " + placeText(placeOf(change)) + " lies outside its bar");
    const MapData before = std::exchange(session.map, map);
    keepOnTheirLines(session, before);
    return {};
}

Expected<void> setSections(Session& session, std::vector<Section> sections) {
    std::sort(sections.begin(), sections.end(), comesBefore);
    for (std::size_t i = 0; i < sections.size(); ++i) {
        if (sections[i].name.empty() || sections[i].bars < 1)
            return refuse("A section has a name and at least one bar");
        if (const auto& beats = sections[i].beats;
            beats && (sections[i].bars != 1 || beats->first < 1 || beats->count < 1))
            return refuse("A section of beats lies in one bar and has at least one beat");
        if (const auto& feel = sections[i].feel; feel && !feel->straight() && !session.feelNamed(feel->name))
            return refuse("There is no such feel");
        for (std::size_t other = 0; other < i; ++other)
            if (overlap(sections[other], sections[i]))
                return fail(ErrorKind::badValue,
                            "The sections " + sections[other].name + " and " + sections[i].name + " would overlap");
    }
    session.sections = std::move(sections);
    return {};
}

} // namespace

Expected<void> apply(const TimingEdit& edit, Session& session) {
    return std::visit(
        Overloaded{
            [&](const SetSwing& e) {
                return inRange(e.percent.value_or(limits::swing.usual), limits::swing, "The swing").and_then([&] {
                    return set(session, e.section, e.percent, &Section::swing, &TimingSettings::swing);
                });
            },
            [&](const SetPocket& e) {
                const auto pocket = e.pocket.value_or(Milliseconds{limits::pocket.usual});
                return inRange(pocket.value, limits::pocket, "The pocket").and_then([&] {
                    return set(session, e.section, e.pocket, &Section::pocket, &TimingSettings::pocket);
                });
            },
            [&](const SetPull& e) {
                return set(session, e.section, e.pull, &Section::pull, &TimingSettings::pull);
            },
            [&](const SetReach& e) { return setReach(session, e); },
            [&](const SetGoing& e) { return setGoing(session, e); },
            [&](const FollowGoings& e) {
                if (e.section >= session.sections.size())
                    return refuse("There is no such section");
                session.sections[e.section].goings.reset();
                return Expected<void>{};
            },
            [&](const SetMap& e) { return setMap(session, e.map); },
            [&](const SetSections& e) { return setSections(session, e.sections); },
            [&](const SetAssign& e) {
                session.assign = e.assign;
                return Expected<void>{};
            },
            [&](const SetSectionStrength& e) {
                return inRange(e.percent.value_or(limits::strength.usual), limits::strength, "The strength")
                    .and_then([&] {
                        return set(session, std::optional(e.section), e.percent, &Section::strength,
                                   &TimingSettings::strength);
                    });
            }},
        edit);
}

std::string describe(const Session& session, const TimingEdit& edit) {
    const auto of = [&](const std::optional<std::size_t>& section) {
        return !section                             ? std::string{}
               : *section < session.sections.size() ? " of " + session.sections[*section].name
                                                    : std::string(" of a section");
    };
    const auto value = [](const std::optional<double>& number, const char* unit) {
        return number ? " " + trimmedNumber(*number, 1) + unit : std::string(" as usual");
    };
    return std::visit(
        Overloaded{
            [&](const SetSwing& e) { return "Swing" + of(e.section) + value(e.percent, " %"); },
            [&](const SetPocket& e) {
                return "Pocket" + of(e.section) +
                       value(e.pocket ? std::optional(e.pocket->value) : std::nullopt, " ms");
            },
            [&](const SetPull& e) {
                return "Pull" + of(e.section) +
                       (!e.pull                   ? " as usual"
                        : *e.pull == Pull::toLine ? " to the line"
                                                  : " to the pocket's edge");
            },
            [&](const SetReach& e) {
                return "Reach" + of(e.section) +
                       (e.reach ? value(e.reach->value, e.reach->inSteps ? " steps" : " ms")
                                : std::string(" any distance"));
            },
            [&](const SetGoing& e) {
                const char* goes = e.going == Going::land   ? " lands"
                                   : e.going == Going::ride ? " rides along"
                                                            : " stays as played";
                return std::string(name(e.voice)) + goes + (e.section ? " in" + of(e.section).substr(3) : "");
            },
            [&](const FollowGoings& e) { return "Drums" + of(e.section) + " as in the song"; },
            [](const SetMap& e) { return e.what; }, [](const SetSections& e) { return e.what; },
            [](const SetAssign& e) {
                return std::string(e.assign == Assign::path ? "Lines by one path" : "Lines by nearness");
            },
            [&](const SetSectionStrength& e) { return "Strength" + of(e.section) + value(e.percent, " %"); }},
        edit);
}

} // namespace lampo
