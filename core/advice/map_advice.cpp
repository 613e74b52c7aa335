#include "advice/map_advice.h"

#include "pipeline/companion_attacks.h"
#include "pulse/followed_map.h"
#include "pulse/shove_fit.h"

#include <algorithm>

namespace lampo {
namespace {

constexpr Decibels companionThreshold{-24};

/// How far `at` lies behind a grid line, in quarter notes of its bar's pace.
FeltHit feltAt(const MusicalMap& map, const TargetLine& line, SongFrame at, Decibels level) {
    const Meter meter = map.meterOf(line.place.bar);
    const FrameCount quarter = map.at(line.place.bar, 0.25) - map.barStart(line.place.bar);
    // Counted from the bar line to the line's place without swing, so that swing is part of the feel.
    const double quarters = (line.place.beat - 1) * 4 / meter.unit;
    const SongFrame even = map.at(line.place.bar, quarters / 4);
    return {quarters, ratio(at - even, quarter), level};
}

Expected<Feel> finished(const MusicalMap& map, int bar, std::string name, const std::vector<FeltHit>& hits,
                        const char* otherwise) {
    if (hits.empty())
        return fail(ErrorKind::badValue, otherwise);
    return feelOf(std::move(name), 4 * map.meterOf(bar).barInWholes(), hits);
}

} // namespace

std::vector<PulseHit> pulseHits(const Outcome& outcome) {
    std::vector<PulseHit> hits;
    for (std::size_t i = 0; i < outcome.hits.size(); ++i)
        if (!outcome.hits[i].bare)
            hits.push_back({outcome.landings[i].played, outcome.hits[i].voice, outcome.hits[i].level});
    std::sort(hits.begin(), hits.end(), [](const PulseHit& a, const PulseHit& b) { return a.at < b.at; });
    return hits;
}

MapReport checkMap(const Session& session, const Outcome& outcome) {
    const auto hits = pulseHits(outcome);
    return {fitOf(MusicalMap(session.map, session.rate), hits), adviceOn(session.map, session.rate, hits)};
}

Expected<Edit> followDrummerEdit(const Session& session, const Outcome& outcome, double smoothness) {
    return followedMap(session.map, session.rate, pulseHits(outcome), smoothness).map([](const MapData& map) {
        return Edit{TimingEdit{SetMap{map, "Follow the drummer"}}};
    });
}

FrameCount suggestedShove(const Session& session, const Outcome& outcome, std::size_t first, std::size_t last) {
    std::vector<PulseHit> passage, rest;
    for (std::size_t i = 0; i < outcome.hits.size(); ++i) {
        const bool inside = first <= i && i <= last;
        const Landing& landing = outcome.landings[i];
        const SongFrame at = inside || landing.line ? landing.played + landing.shoved : landing.played;
        (inside ? passage : rest).push_back({at, outcome.hits[i].voice, outcome.hits[i].level});
    }
    const auto byPlace = [](const PulseHit& a, const PulseHit& b) { return a.at < b.at; };
    std::sort(passage.begin(), passage.end(), byPlace);
    std::sort(rest.begin(), rest.end(), byPlace);
    return bestShove(MusicalMap(session.map, session.rate), passage, rest);
}

Expected<Feel> feelOfPassage(const Session& session, const Outcome& outcome, Range<SongFrame> range,
                             std::string name) {
    const MusicalMap map(session.map, session.rate);
    std::vector<FeltHit> hits;
    for (std::size_t i = 0; i < outcome.hits.size(); ++i) {
        const Landing& landing = outcome.landings[i];
        if (landing.line && range.contains(landing.line->frame - landing.line->bent))
            hits.push_back(feltAt(map, *landing.line, landing.played + landing.shoved, outcome.hits[i].level));
    }
    return finished(map, map.barAt(range.begin), std::move(name), hits,
                    "No hit means a line in this passage: choose another to take its feel");
}

Expected<Feel> feelOfCompanion(const Session& session, const Analyses& analyses, const std::string& companion,
                               std::string name) {
    const MusicalMap map(session.map, session.rate);
    const auto attacks = companionAttacks(session, analyses, companion, companionThreshold);
    std::vector<FeltHit> hits;
    if (!attacks.empty()) {
        Session straight = session;
        straight.timing.feel = {};
        for (Section& section : straight.sections)
            section.feel.reset();
        straight.companionLines.reset();
        const Range<SongFrame> around{map.barStart(map.barAt(attacks.front()) - 1),
                                      map.barStart(map.barAt(attacks.back()) + 2)};
        const auto lines = targetLines(straight, map, around, {});
        for (const SongFrame attack : attacks)
            hits.push_back(feltAt(map, lines[nearestLine(attack, lines)], attack, {0}));
    }
    return finished(map, 1, std::move(name), hits, "No attacks were heard in this companion yet");
}

} // namespace lampo
