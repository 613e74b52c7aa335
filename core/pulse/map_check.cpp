#include "pulse/map_check.h"

#include "base/text.h"
#include "pulse/bar_shifts.h"
#include "pulse/beat_agreement.h"

#include <algorithm>
#include <cmath>
#include <fmt/core.h>
#include <optional>

namespace lampo {
namespace {

constexpr double clearlyBetter = 1.1;   // of agreements
constexpr Milliseconds farOff{15};      // a drummer who sits behind the click is no wrong map
constexpr Milliseconds farOffStart{30}; // where bar 1 lies at the file's start, or whole bars behind it
constexpr Milliseconds exactly{2};      // two places are one
constexpr double sureBars = 4;    // nats for each bar by which another bar 1 must fit better than the file's start
constexpr int fewestBars = 3;     // a fill is no other meter
constexpr double hardlyWorse = 5; // nats: then another place is as well possible

MapData scaled(MapData map, double ratio) {
    for (TempoChange& change : map.tempos)
        change.bpm.value *= ratio;
    return map;
}

std::string beatsInWords(double beats) {
    return trimmedNumber(std::abs(beats), 1) + (std::abs(beats) == 1 ? " beat" : " beats");
}

/// Songs are recorded to a click that starts with the file: a bar 1 there, or whole bars later, is believed more
/// than any other.
bool startsWithTheFile(const MapData& map, SampleRate rate) {
    const MusicalMap lines(map, rate);
    const FrameCount bar = lines.barStart(2) - lines.barStart(1);
    const double bars = ratio(map.origin - SongFrame{0}, bar);
    return abs(scaled(bar, bars - std::round(bars))) <= toFrames(exactly, rate);
}

/// How far the strong hits lie behind the beats.
Milliseconds offBeats(const MapData& map, SampleRate rate, std::span<const PulseHit> hits) {
    const MusicalMap lines(map, rate);
    const double behind = beatsBehind(strongHits(lines, hits));
    return toMilliseconds(lines.at(1, behind / 4) - map.origin, rate);
}

/// The map's origin where it must be: as it is when the beats fit then, or else at the file's start when they fit
/// there, or else at the nearest place where they fit. Which of the beats bar 1 begins with is not asked here.
MapData onItsBeats(MapData map, SampleRate rate, std::span<const PulseHit> hits) {
    if (std::abs(offBeats(map, rate, hits).value) < farOff.value)
        return map;
    MapData atStart = map;
    atStart.origin = SongFrame{0};
    if (std::abs(offBeats(atStart, rate, hits).value) < farOff.value)
        return atStart;
    const MusicalMap lines(map, rate);
    map.origin = lines.at(1, beatsBehind(strongHits(lines, hits)) / 4);
    return map;
}

/// What else changes, said with it.
std::string originInWords(const MapData& was, const MapData& is, SampleRate rate) {
    if (is.origin == was.origin)
        return "";
    if (is.origin == SongFrame{0})
        return "; bar 1 would lie at the file's start";
    const double off = toMilliseconds(is.origin - was.origin, rate).value;
    return fmt::format("; bar 1 would lie {} ms {}", trimmedNumber(std::abs(off), 0),
                       off > 0 ? "later" : "earlier");
}

std::optional<MapAdvice> adviceOnTempo(const MapData& map, SampleRate rate, std::span<const PulseHit> hits,
                                       std::span<const StrongHit> strong) {
    const double found = bestRatio(strong);
    const double bpm = map.tempos.front().bpm.value;
    const double ratio = rounded(strong, bpm, found);
    const double span = strong.back().beats - strong.front().beats;
    if (std::abs(ratio - 1) * span < 0.25 || agreement(strong, ratio) < clearlyBetter * agreement(strong, 1))
        return std::nullopt;
    const MapData better = onItsBeats(scaled(map, ratio), rate, hits);
    const std::string more = map.tempos.size() > 1 ? " at bar 1, and the changes by as much" : "";
    return MapAdvice{MapAdvice::Kind::tempo,
                     fmt::format("The tempo seems to be {} BPM{}, not {}{}", trimmedNumber(bpm * ratio, 2), more,
                                 trimmedNumber(bpm, 2), originInWords(map, better, rate)),
                     better};
}

std::optional<MapAdvice> adviceOnOrigin(const MapData& map, SampleRate rate, std::span<const StrongHit> strong) {
    const double behind = beatsBehind(strong);
    const MusicalMap lines(map, rate);
    const SongFrame origin = lines.at(1, behind / 4);
    const Milliseconds off = toMilliseconds(origin - map.origin, rate);
    if (std::abs(off.value) < (startsWithTheFile(map, rate) ? farOffStart : farOff).value)
        return std::nullopt;
    MapData better = map;
    better.origin = origin;
    return MapAdvice{MapAdvice::Kind::origin,
                     fmt::format("The strong hits lie {} ms {} the beats: bar 1 seems to lie there",
                                 trimmedNumber(std::abs(off.value), 0), off.value > 0 ? "after" : "before"),
                     std::move(better)};
}

/// `bar` with `halfBeats` more (or fewer); those behind it keep their meters.
MapData withLonger(MapData map, SampleRate rate, int bar, int halfBeats) {
    const Meter was = MusicalMap(map, rate).meterOf(bar);
    Meter now = halfBeats % 2 == 0 ? Meter{was.beats + halfBeats / 2, was.unit}
                                   : Meter{2 * was.beats + halfBeats, 2 * was.unit};
    std::erase_if(map.meters, [&](const MeterChange& change) { return change.bar == bar && bar > 1; });
    const bool ruledBehind = std::any_of(map.meters.begin(), map.meters.end(),
                                         [&](const MeterChange& change) { return change.bar == bar + 1; });
    if (bar == 1)
        map.meters.front().meter = now;
    else
        map.meters.push_back({bar, now});
    if (!ruledBehind)
        map.meters.push_back({bar + 1, was});
    std::sort(map.meters.begin(), map.meters.end(), [](auto& a, auto& b) { return a.bar < b.bar; });
    return map;
}

std::string inWords(Meter meter) {
    return fmt::format("{}/{}", meter.beats, meter.unit);
}

/// What makes bars from `first` on begin `halfBeats` later, up to whole bars: the bar before it so much longer or
/// shorter; half a bar is a bar of its own.
struct Change {
    int bar;
    int halfBeats;
};

Change changeAt(int first, int halfBeats, Meter meter) {
    const int bar = 2 * meter.beats;
    const int change = ((halfBeats % bar) + bar) % bar;
    if (2 * change == bar)
        return {first, change - bar};
    return {first - 1, 2 * change > bar ? change - bar : change};
}

/// Bars [first, end) begin `shift` half beats later than those before them.
struct Run {
    int first;
    int end;
    int shift;
    int before;         ///< shift of the bars in front of it
    bool returns;       ///< to that
    bool vague = false; ///< it may well begin a bar earlier
};

std::vector<Run> runsOf(const std::vector<int>& shifts, int firstBar) {
    std::vector<Run> runs;
    const auto bars = shifts.size();
    for (std::size_t begin = 0, end = 0; begin < bars; begin = end) {
        for (end = begin + 1; end < bars && shifts[end] == shifts[begin];)
            ++end;
        const int before = begin == 0 ? 0 : shifts[begin - 1];
        runs.push_back({firstBar + static_cast<int>(begin), firstBar + static_cast<int>(end), shifts[begin], before,
                        end < bars && shifts[end] == before});
    }
    return runs;
}

std::optional<MapAdvice> adviceOnRun(const MapData& map, SampleRate rate, const Run& run, Meter meter) {
    const MusicalMap lines(map, rate);
    if (run.first <= 1) {
        MapData moved = map;
        moved.origin = lines.at(1, run.shift / 2.0 / meter.unit);
        return MapAdvice{MapAdvice::Kind::origin,
                         fmt::format("Bar 1 seems to lie {}{}", beatsInWords(run.shift / 2.0),
                                     run.shift > 0 ? " later" : " earlier"),
                         std::move(moved)};
    }
    const Change change = changeAt(run.first, run.shift - run.before, meter);
    MapData better = withLonger(map, rate, change.bar, change.halfBeats);
    const Meter is = MusicalMap(better, rate).meterOf(change.bar);
    if (!isMeter(is))
        return std::nullopt;
    if (!run.returns)
        return MapAdvice{MapAdvice::Kind::bars,
                         fmt::format("A bar of {} seems to be at bar {}{}, where the map has {}", inWords(is),
                                     change.bar, run.vague ? " or just before" : "",
                                     inWords(lines.meterOf(change.bar))),
                         std::move(better)};
    const bool halfBar = change.bar == run.first;
    const double later = (run.shift - run.before) / 2.0;
    return MapAdvice{MapAdvice::Kind::bars,
                     fmt::format("Bars {} to {} fit {}{}", run.first, run.end - 1, beatsInWords(later),
                                 later > 0 ? " later" : " earlier"),
                     halfBar ? withLonger(std::move(better), rate, run.end, change.halfBeats)
                             : withLonger(std::move(better), rate, run.end - 1, -change.halfBeats)};
}

/// Nats for each bar by which a run fits better than where the map has it.
double gainOf(const BarShifts& search, const Run& run) {
    double sum = 0;
    for (int bar = run.first; bar < run.end; ++bar)
        sum += search.worseBy(bar, 0);
    return sum / std::max(1, run.end - run.first);
}

std::vector<MapAdvice> adviceOnBars(const MapData& map, SampleRate rate, std::span<const PulseHit> hits) {
    const MusicalMap lines(map, rate);
    BarShifts search(lines, hits);
    std::vector<MapAdvice> advice;
    for (Run run : runsOf(search.find(), search.firstBar())) {
        if (run.shift == run.before || run.end - run.first < fewestBars)
            continue;
        if (run.first <= 1 && startsWithTheFile(map, rate) && gainOf(search, run) < sureBars)
            continue;
        run.vague = run.first > search.firstBar() && search.worseBy(run.first - 1, run.shift) < hardlyWorse;
        if (auto found = adviceOnRun(map, rate, run, search.meter()))
            advice.push_back(std::move(*found));
    }
    return advice;
}

} // namespace

MapFit fitOf(const MusicalMap& map, std::span<const PulseHit> hits) {
    std::vector<double> away;
    for (const PulseHit& hit : hits) {
        if (!isStrong(hit))
            continue;
        const BarBeat place = map.barBeat(hit.at);
        const double sixteenths = std::round((place.beat - 1) * 4);
        if (std::fmod(sixteenths, 2) != 0)
            continue;
        const double beat = 1 + sixteenths / 4;
        away.push_back(std::abs(toMilliseconds(hit.at - map.at({place.bar, beat}), map.rate()).value));
    }
    if (away.empty())
        return {};
    const auto eighth = away.begin() + static_cast<std::ptrdiff_t>((away.size() - 1) * 8 / 10);
    std::nth_element(away.begin(), eighth, away.end());
    return {away.size(), {*eighth}};
}

std::vector<MapAdvice> adviceOn(const MapData& map, SampleRate rate, std::span<const PulseHit> hits) {
    if (hits.empty())
        return {};
    const auto strong = strongHits(MusicalMap(map, rate), hits);
    if (strong.size() < fewestStrongHits)
        return {};
    if (auto tempo = adviceOnTempo(map, rate, hits, strong))
        return {std::move(*tempo)};
    if (auto origin = adviceOnOrigin(map, rate, strong))
        return {std::move(*origin)};
    return adviceOnBars(map, rate, hits);
}

} // namespace lampo
