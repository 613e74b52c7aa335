#include "project/timing_json.h"

#include "project/by_hand_json.h"

namespace lampo {
namespace {

using namespace jsonfields;

json drumTimingsJson(const DrumTimings& drumTimings) {
    json out = json::object();
    for (std::size_t voice = 0; voice < voiceCount; ++voice)
        if (drumTimings[voice] != DrumTiming::land)
            out[std::string(name(static_cast<Voice>(voice)))] = drumTimingNames.of(drumTimings[voice]);
    return out;
}

DrumTimings readDrumTimings(const json& j) {
    DrumTimings drumTimings{};
    for (std::size_t voice = 0; voice < voiceCount; ++voice) {
        const std::string drum(name(static_cast<Voice>(voice)));
        if (j.is_object() && j.contains(drum))
            drumTimings[voice] = known(drumTimingNames.named(text(j, drum.c_str())), drum.c_str());
    }
    return drumTimings;
}

json reachJson(const Reach& reach) {
    return reach.inSteps ? json{{"steps", reach.value}} : json{{"ms", reach.value}};
}

Reach readReach(const json& j) {
    return j.contains("steps") ? Reach{number(j, "steps", limits::reachInSteps), true}
                               : Reach{number(j, "ms", limits::reach), false};
}

Pull readPull(const json& j) {
    return known(pullNames.named(text(j, "pull")), "pull");
}

} // namespace

json timingJson(const Session& session) {
    const TimingSettings& timing = session.timing;
    json out{{"grid", name(timing.grid)},
             {"strength", timing.strength},
             {"swing", timing.swing},
             {"pocket_ms", timing.pocket.value},
             {"pull", pullNames.of(timing.pull)},
             {"drums", drumTimingsJson(timing.drumTimings)},
             {"assign", assignNames.of(session.assign)}};
    if (timing.reach)
        out["reach"] = reachJson(*timing.reach);
    return out;
}

void readTiming(const json& j, Session& session) {
    TimingSettings& timing = session.timing;
    timing.grid = known(noteValueNamed(text(j, "grid")), "grid");
    timing.strength = number(j, "strength", limits::strength);
    if (j.contains("swing"))
        timing.swing = number(j, "swing", limits::swing);
    if (j.contains("pocket_ms"))
        timing.pocket = {number(j, "pocket_ms", limits::pocket)};
    if (j.contains("pull"))
        timing.pull = readPull(j);
    if (j.contains("reach"))
        timing.reach = readReach(member(j, "reach"));
    if (j.contains("drums"))
        timing.drumTimings = readDrumTimings(member(j, "drums"));
    if (j.contains("assign"))
        session.assign = known(assignNames.named(text(j, "assign")), "assign");
}

void writeSectionTiming(const Section& section, json& out) {
    if (section.grid)
        out["grid"] = name(*section.grid);
    if (section.strength)
        out["strength"] = *section.strength;
    if (section.swing)
        out["swing"] = *section.swing;
    if (section.pocket)
        out["pocket_ms"] = section.pocket->value;
    if (section.pull)
        out["pull"] = pullNames.of(*section.pull);
    if (section.reach)
        out["reach"] = reachJson(*section.reach);
    if (section.drumTimings)
        out["drums"] = drumTimingsJson(*section.drumTimings);
    if (section.feel)
        out["feel"] = feelUseJson(*section.feel);
    if (section.leadIn)
        out["lead_in_ms"] = section.leadIn->value;
    if (section.fill)
        out["fill"] = fillNames.of(*section.fill);
    if (section.beats) {
        out["first_beat"] = section.beats->first;
        out["beats"] = section.beats->count;
    }
}

void readSectionTiming(const json& j, Section& section) {
    if (j.contains("grid"))
        section.grid = known(noteValueNamed(text(j, "grid")), "grid");
    if (j.contains("strength"))
        section.strength = number(j, "strength", limits::strength);
    if (j.contains("swing"))
        section.swing = number(j, "swing", limits::swing);
    if (j.contains("pocket_ms"))
        section.pocket = Milliseconds{number(j, "pocket_ms", limits::pocket)};
    if (j.contains("pull"))
        section.pull = readPull(j);
    if (j.contains("reach"))
        section.reach = readReach(member(j, "reach"));
    if (j.contains("drums"))
        section.drumTimings = readDrumTimings(member(j, "drums"));
    if (j.contains("feel"))
        section.feel = readFeelUse(member(j, "feel"));
    if (j.contains("lead_in_ms"))
        section.leadIn = Milliseconds{number(j, "lead_in_ms", limits::leadIn)};
    if (j.contains("fill"))
        section.fill = known(fillNames.named(text(j, "fill")), "fill");
    if (j.contains("first_beat"))
        section.beats =
            BeatRange{static_cast<int>(whole(j, "first_beat", 1, 32)), static_cast<int>(whole(j, "beats", 1, 32))};
}

} // namespace lampo
