#include "edits/timing_edits.h"

#include "base/text.h"
#include "edits/map_change.h"
#include "edits/overloaded.h"
#include "edits/spoken_of.h"
#include "map/place_text.h"
#include "session/refusals.h"

#include <algorithm>
#include <cmath>
#include <fmt/core.h>
#include <utility>

namespace lampo {
namespace {

constexpr const char* noMeter = "A meter has 1 to 32 beats of 1, 2, 4, 8, 16 or 32";

/// Gives a setting to the section or to the song.
template <class Value>
Expected<void> set(Session& session, const std::optional<std::size_t>& section, const std::optional<Value>& value,
                   std::optional<Value> Section::*own, Value TimingSettings::*general) {
    if (!section)
        session.timing.*general = value.value_or(TimingSettings{}.*general);
    else if (*section < session.sections.size())
        session.sections[*section].*own = value;
    else
        return noSuch("section");
    return {};
}

Expected<void> setDrumTiming(Session& session, const SetDrumTiming& e) {
    const auto voice = static_cast<std::size_t>(e.voice);
    if (!e.section) {
        session.timing.drumTimings[voice] = e.drumTiming;
        return {};
    }
    if (*e.section >= session.sections.size())
        return noSuch("section");
    DrumTimings drumTimings = session.timingIn(session.sections[*e.section]).drumTimings;
    drumTimings[voice] = e.drumTiming;
    session.sections[*e.section].drumTimings = drumTimings;
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
        return noSuch("section");
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
            return refuse(noMeter);
    const MusicalMap lines(map, session.rate);
    for (const TempoChange& change : map.tempos)
        if (!(1 <= change.beat && change.beat < lines.meterOf(change.bar).beats + 1))
            return refuse(
                fmt::format("The change of tempo at {} lies outside its bar", placeText(placeOf(change))));
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
            return noSuch("feel");
        for (std::size_t other = 0; other < i; ++other)
            if (overlap(sections[other], sections[i]))
                return refuse(
                    fmt::format("The sections {} and {} would overlap", sections[other].name, sections[i].name));
    }
    session.sections = std::move(sections);
    return {};
}

/// The map's first tempo, meter or place changes; borders stay on their lines.
Expected<void> onMap(Session& session, auto&& change) {
    const MapData before = session.map;
    change(session.map);
    keepOnTheirLines(session, before);
    return {};
}

/// One object, so that each edit is applied to the same session.
struct TimingEditor {
    Session& session;

    Expected<void> operator()(const SetTempo& e) {
        return inRange(e.bpm.value, limits::tempo, "The tempo").and_then([&] {
            return onMap(session, [&](MapData& map) { map.tempos.front().bpm = e.bpm; });
        });
    }
    Expected<void> operator()(const SetMeter& e) {
        if (!isMeter(e.meter))
            return refuse(noMeter);
        return onMap(session, [&](MapData& map) { map.meters.front().meter = e.meter; });
    }
    Expected<void> operator()(const SetOrigin& e) {
        return onMap(session, [&](MapData& map) { map.origin = e.origin; });
    }
    Expected<void> operator()(const SetMap& e) { return setMap(session, e.map); }
    Expected<void> operator()(const SetSections& e) { return setSections(session, e.sections); }
    Expected<void> operator()(const SetGrid& e) {
        session.timing.grid = e.grid;
        return {};
    }
    Expected<void> operator()(const SetSectionGrid& e) {
        return set(session, std::optional(e.section), e.grid, &Section::grid, &TimingSettings::grid);
    }
    Expected<void> operator()(const SetStrength& e) {
        return inRange(e.percent, limits::strength, "The strength").map([&] {
            session.timing.strength = e.percent;
        });
    }
    Expected<void> operator()(const SetSectionStrength& e) {
        return inRange(e.percent.value_or(limits::strength.defaultValue), limits::strength, "The strength")
            .and_then([&] {
                return set(session, std::optional(e.section), e.percent, &Section::strength,
                           &TimingSettings::strength);
            });
    }
    Expected<void> operator()(const SetSwing& e) {
        return inRange(e.percent.value_or(limits::swing.defaultValue), limits::swing, "The swing").and_then([&] {
            return set(session, e.section, e.percent, &Section::swing, &TimingSettings::swing);
        });
    }
    Expected<void> operator()(const SetPocket& e) {
        const auto pocket = e.pocket.value_or(Milliseconds{limits::pocket.defaultValue});
        return inRange(pocket.value, limits::pocket, "The pocket").and_then([&] {
            return set(session, e.section, e.pocket, &Section::pocket, &TimingSettings::pocket);
        });
    }
    Expected<void> operator()(const SetPull& e) {
        return set(session, e.section, e.pull, &Section::pull, &TimingSettings::pull);
    }
    Expected<void> operator()(const SetReach& e) { return setReach(session, e); }
    Expected<void> operator()(const SetDrumTiming& e) { return setDrumTiming(session, e); }
    Expected<void> operator()(const FollowDrumTimings& e) {
        if (e.section >= session.sections.size())
            return noSuch("section");
        session.sections[e.section].drumTimings.reset();
        return {};
    }
    Expected<void> operator()(const SetAssign& e) {
        session.assign = e.assign;
        return {};
    }
};

} // namespace

Expected<void> apply(const TimingEdit& edit, Session& session) {
    return std::visit(TimingEditor{session}, edit);
}

std::string describe(const Session& session, const TimingEdit& edit) {
    const auto of = [&](const std::optional<std::size_t>& section) {
        return section ? " of " + sectionName(session, *section) : std::string{};
    };
    const auto value = [](const std::optional<double>& number, const char* unit) {
        return number ? fmt::format(" {}{}", trimmedNumber(*number, 1), unit) : std::string(" as usual");
    };
    return std::visit(
        Overloaded{
            [](const SetTempo& e) { return fmt::format("Tempo {} BPM", trimmedNumber(e.bpm.value)); },
            [](const SetMeter& e) { return fmt::format("Meter {}/{}", e.meter.beats, e.meter.unit); },
            [&](const SetOrigin& e) {
                return fmt::format("Bar 1 at {} s",
                                   withMinus(toSeconds(FrameCount{e.origin.frame}, session.rate).value, 3));
            },
            [](const SetGrid& e) { return "Grid " + name(e.grid); },
            [&](const SetSectionGrid& e) {
                return fmt::format("Grid of {}{}", sectionName(session, e.section),
                                   e.grid ? " " + name(*e.grid) : " as the song");
            },
            [](const SetStrength& e) { return fmt::format("Strength {} %", trimmedNumber(e.percent, 1)); },
            [&](const SetSwing& e) { return fmt::format("Swing{}{}", of(e.section), value(e.percent, " %")); },
            [&](const SetPocket& e) {
                return fmt::format("Pocket{}{}", of(e.section),
                                   value(e.pocket ? std::optional(e.pocket->value) : std::nullopt, " ms"));
            },
            [&](const SetPull& e) {
                return fmt::format("Pull{}{}", of(e.section),
                                   !e.pull                   ? " as usual"
                                   : *e.pull == Pull::toLine ? " to the line"
                                                             : " to the pocket's edge");
            },
            [&](const SetReach& e) {
                return fmt::format("Reach{}{}", of(e.section),
                                   e.reach ? value(e.reach->value, e.reach->inSteps ? " steps" : " ms")
                                           : std::string(" any distance"));
            },
            [&](const SetDrumTiming& e) {
                const char* goes = e.drumTiming == DrumTiming::land   ? " lands"
                                   : e.drumTiming == DrumTiming::ride ? " rides along"
                                                                      : " stays as played";
                return std::string(name(e.voice)) + goes +
                       (e.section ? " in " + sectionName(session, *e.section) : std::string{});
            },
            [&](const FollowDrumTimings& e) { return fmt::format("Drums{} as in the song", of(e.section)); },
            [](const SetMap& e) { return e.what; }, [](const SetSections& e) { return e.what; },
            [](const SetAssign& e) {
                return std::string(e.assign == Assign::path ? "Lines by one path" : "Lines by nearness");
            },
            [&](const SetSectionStrength& e) {
                return fmt::format("Strength{}{}", of(e.section), value(e.percent, " %"));
            }},
        edit);
}

} // namespace lampo
