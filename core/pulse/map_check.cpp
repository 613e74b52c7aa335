#include "pulse/map_check.h"

#include "base/text.h"
#include "pulse/pattern.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <complex>
#include <numbers>
#include <optional>

namespace lampo {
namespace {

constexpr double widestRatio = 1.34;  // of tempos
constexpr double clearlyBetter = 1.1; // of agreements
constexpr double asGood = 0.97;
constexpr Milliseconds farOff{15}; // a drummer who sits behind the click is no wrong map
constexpr double changeCost = 14;  // nats, of bars that fit elsewhere than those before
constexpr int fewestBars = 3;      // a fill is no other meter

struct StrongHit {
    double beats; ///< from the map's bar 1, in quarter notes of the map's own time
    double weight;
};

/// How far `frame` lies from bar 1, in quarter notes, whatever the meters.
double quartersAt(const MusicalMap& map, SongFrame frame) {
    const BarBeat place = map.barBeat(frame);
    double quarters = (place.beat - 1) * 4 / map.meterOf(place.bar).unit;
    for (int bar = 1; bar < place.bar; ++bar)
        quarters += 4 * map.meterOf(bar).barInWholes();
    for (int bar = place.bar; bar < 1; ++bar)
        quarters -= 4 * map.meterOf(bar).barInWholes();
    return quarters;
}

std::vector<StrongHit> strongHits(const MusicalMap& map, std::span<const PulseHit> hits) {
    std::vector<StrongHit> strong;
    for (const PulseHit& hit : hits)
        if (isStrong(hit))
            strong.push_back({quartersAt(map, hit.at), weightOf(hit)});
    return strong;
}

/// The sum of the hits as arrows that turn once in each of `perQuarter` parts of a quarter, were the tempo `ratio`
/// times the map's: its length tells how much they agree, its direction where the beats lie.
std::complex<double> turned(std::span<const StrongHit> hits, double ratio, double perQuarter) {
    std::complex<double> sum;
    for (const StrongHit& hit : hits)
        sum += std::polar(hit.weight, 2 * std::numbers::pi * ratio * perQuarter * hit.beats);
    return sum;
}

double agreement(std::span<const StrongHit> hits, double ratio) {
    return std::abs(turned(hits, ratio, 1)) + 0.5 * std::abs(turned(hits, ratio, 2)) +
           0.25 * std::abs(turned(hits, ratio, 4));
}

/// agreement() of `count` ratios from `first` on, `step` apart: each hit's arrow is turned on from ratio to ratio.
std::vector<double> agreements(std::span<const StrongHit> hits, double first, double step, std::size_t count) {
    struct Arrow {
        double x = 0, y = 0;
        void add(double weight, const Arrow& other) {
            x += weight * other.x;
            y += weight * other.y;
        }
        Arrow turnedBy(const Arrow& other) const { return {x * other.x - y * other.y, x * other.y + y * other.x}; }
        double length() const { return std::hypot(x, y); }
    };
    const auto arrow = [](double turns) {
        return Arrow{std::cos(2 * std::numbers::pi * turns), std::sin(2 * std::numbers::pi * turns)};
    };
    std::vector<std::array<Arrow, 3>> sums(count);
    for (const StrongHit& hit : hits) {
        Arrow one = arrow(first * hit.beats);
        const Arrow on = arrow(step * hit.beats);
        for (auto& [once, twice, fourTimes] : sums) {
            const Arrow two = one.turnedBy(one);
            once.add(hit.weight, one);
            twice.add(hit.weight, two);
            fourTimes.add(hit.weight, two.turnedBy(two));
            one = one.turnedBy(on);
        }
    }
    std::vector<double> result;
    for (const auto& [once, twice, fourTimes] : sums)
        result.push_back(once.length() + 0.5 * twice.length() + 0.25 * fourTimes.length());
    return result;
}

double bestRatio(std::span<const StrongHit> hits) {
    const double span = std::max(8.0, hits.back().beats - hits.front().beats);
    double best = 1, step = 1 / (4 * span), low = 1 / widestRatio, high = widestRatio;
    for (; step > 1e-6; step /= 4) { // ever finer around the best
        const auto found = agreements(hits, low, step, static_cast<std::size_t>((high - low) / step) + 1);
        const auto most = std::max_element(found.begin(), found.end());
        if (*most > agreement(hits, best))
            best = low + static_cast<double>(most - found.begin()) * step;
        low = best - step;
        high = best + step;
    }
    return best;
}

MapData scaled(MapData map, double ratio) {
    for (TempoChange& change : map.tempos)
        change.bpm.value *= ratio;
    return map;
}

/// The roundest tempo that agrees as well: clicks are set to round numbers.
double rounded(std::span<const StrongHit> hits, double bpm, double ratio) {
    const double most = agreement(hits, ratio);
    for (const double grain : {1.0, 0.5, 0.1, 0.01}) {
        const double round = std::round(bpm * ratio / grain) * grain;
        if (round > 0 && agreement(hits, round / bpm) >= asGood * most)
            return round / bpm;
    }
    return ratio;
}

/// How far the beats lie behind the map's, in quarter notes, −0.5 to 0.5.
/// Roughly by the beats, then exactly by what is played on the sixteenths there.
double beatsBehind(std::span<const StrongHit> hits) {
    const double rough = std::arg(turned(hits, 1, 1)) / (2 * std::numbers::pi);
    std::vector<double> away;
    for (const StrongHit& hit : hits) {
        const double sixteenths = (hit.beats - rough) * 4;
        away.push_back((sixteenths - std::round(sixteenths)) / 4);
    }
    const auto middle = away.begin() + static_cast<std::ptrdiff_t>(away.size() / 2);
    std::nth_element(away.begin(), middle, away.end());
    return rough + *middle;
}

std::string beatsInWords(double beats) {
    return trimmedNumber(std::abs(beats), 1) + (std::abs(beats) == 1 ? " beat" : " beats");
}

/// The map with its origin on the beats, moved by whole beats to where the pattern fits best.
MapData onItsBeats(MapData map, SampleRate rate, std::span<const PulseHit> hits) {
    const MusicalMap lines(map, rate);
    const auto strong = strongHits(lines, hits);
    const double behind = beatsBehind(strong);
    map.origin = lines.at(1, behind / 4);
    const MusicalMap moved(map, rate);
    const Meter meter = commonMeter(moved, hits);
    const Pattern usual(meter);
    int best = 0;
    double most = -1e12;
    for (int beat = -meter.beats / 2; beat <= (meter.beats - 1) / 2; ++beat) {
        double sum = beat == 0 ? 1e-6 : 0; // of equals where it is
        for (const PulseHit& hit : hits)
            sum += usual.score(hit, quartersAt(moved, hit.at) * meter.unit / 4 - beat);
        if (sum > most) {
            most = sum;
            best = beat;
        }
    }
    map.origin = moved.at(1, static_cast<double>(best) / meter.unit);
    return map;
}

std::optional<MapAdvice> adviceOnTempo(const MapData& map, SampleRate rate, std::span<const PulseHit> hits,
                                       std::span<const StrongHit> strong) {
    const double found = bestRatio(strong);
    const double bpm = map.tempos.front().bpm.value;
    const double ratio = rounded(strong, bpm, found);
    const double span = strong.back().beats - strong.front().beats;
    if (std::abs(ratio - 1) * span < 0.25 || agreement(strong, ratio) < clearlyBetter * agreement(strong, 1))
        return std::nullopt;
    MapData better = onItsBeats(scaled(map, ratio), rate, hits);
    const std::string more = map.tempos.size() > 1 ? " at bar 1, and the changes by as much" : "";
    return MapAdvice{MapAdvice::Kind::tempo,
                     "The tempo seems to be " + trimmedNumber(bpm * ratio, 2) + " BPM" + more + ", not " +
                         trimmedNumber(bpm, 2),
                     std::move(better)};
}

std::optional<MapAdvice> adviceOnOrigin(const MapData& map, SampleRate rate, std::span<const StrongHit> strong) {
    const double behind = beatsBehind(strong);
    const MusicalMap lines(map, rate);
    const SongFrame origin = lines.at(1, behind / 4);
    const Milliseconds off = toMilliseconds(origin - map.origin, rate);
    if (std::abs(off.value) < farOff.value)
        return std::nullopt;
    MapData better = map;
    better.origin = origin;
    return MapAdvice{MapAdvice::Kind::origin,
                     "The strong hits lie " + trimmedNumber(std::abs(off.value), 0) + " ms " +
                         (off.value > 0 ? "after" : "before") + " the beats: bar 1 seems to lie there",
                     std::move(better)};
}

/// Bars that seem to begin elsewhere, in half beats behind the map's bar line, −beats to beats.
class BarShifts {
public:
    BarShifts(const MusicalMap& map, std::span<const PulseHit> hits)
        : map_(map), hits_(hits), meter_(commonMeter(map, hits)), first_(map.barAt(hits.front().at)),
          bars_(static_cast<std::size_t>(map.barAt(hits.back().at) - first_ + 1)) {}

    /// One for each bar from firstBar() on.
    std::vector<int> find() {
        std::vector<int> shifts = bestSplit();
        for (int round = 0; round < 3; ++round) {
            Pattern pattern(meter_);
            for (std::size_t bar = 0; bar < bars_; ++bar)
                pattern.add(played(bar, shifts[bar]));
            shifts = bestPath(pattern);
        }
        return shifts;
    }
    int firstBar() const { return first_; }
    Meter meter() const { return meter_; }

private:
    int states() const { return 2 * meter_.beats; }
    int shiftOf(int state) const { return state - meter_.beats + 1; }

    bool usual(std::size_t bar) const { return map_.meterOf(first_ + static_cast<int>(bar)) == meter_; }

    void forHits(std::size_t bar, int shift, auto&& visit) const {
        const int number = first_ + static_cast<int>(bar);
        const double wholes = shift / 2.0 / meter_.unit;
        const SongFrame begin = map_.at(number, wholes - 1.0 / 16 / meter_.unit);
        const SongFrame end = map_.at(number, wholes + meter_.barInWholes() - 1.0 / 16 / meter_.unit);
        auto hit =
            std::partition_point(hits_.begin(), hits_.end(), [&](const PulseHit& h) { return h.at < begin; });
        const SongFrame line = map_.at(number, wholes);
        const auto perBeat = static_cast<double>((map_.at(number, wholes + 1.0 / meter_.unit) - line).frames);
        for (; hit != hits_.end() && hit->at < end; ++hit)
            visit(*hit, static_cast<double>((hit->at - line).frames) / perBeat);
    }

    /// What one bar holds when it begins so many half beats later.
    Pattern played(std::size_t bar, int shift) const {
        Pattern pattern = nothing_;
        if (usual(bar))
            forHits(bar, shift, [&](const PulseHit& hit, double beats) { pattern.learn(hit, beats); });
        return pattern;
    }

    /// All bars where they are, or from one bar on elsewhere, whichever makes them most alike.
    std::vector<int> bestSplit() const {
        Pattern unmoved(meter_);
        for (std::size_t bar = 0; bar < bars_; ++bar)
            unmoved.add(played(bar, 0));
        double most = unmoved.likeness() + changeCost;
        std::vector<int> best(bars_, 0);
        for (int state = 0; state < states(); ++state) {
            Pattern pattern = unmoved;
            for (std::size_t bar = bars_; bar-- > 1;) {
                pattern.remove(played(bar, 0));
                pattern.add(played(bar, shiftOf(state)));
                if (const double now = pattern.likeness(); now > most) {
                    most = now;
                    std::fill(best.begin(), best.begin() + static_cast<std::ptrdiff_t>(bar), 0);
                    std::fill(best.begin() + static_cast<std::ptrdiff_t>(bar), best.end(), shiftOf(state));
                }
            }
        }
        return best;
    }

    /// The path through all bars that the pattern likes best, with few changes.
    std::vector<int> bestPath(const Pattern& pattern) const {
        const auto count = static_cast<std::size_t>(states());
        std::vector<std::vector<std::size_t>> from(bars_, std::vector<std::size_t>(count));
        std::vector<double> sums(count, 0);
        for (std::size_t bar = 0; bar < bars_; ++bar) {
            const auto best = static_cast<std::size_t>(std::max_element(sums.begin(), sums.end()) - sums.begin());
            std::vector<double> next(count);
            for (std::size_t state = 0; state < count; ++state) {
                const bool changes = bar > 0 && sums[best] - changeCost > sums[state];
                from[bar][state] = changes ? best : state;
                next[state] = changes ? sums[best] - changeCost : sums[state];
                const int shift = shiftOf(static_cast<int>(state));
                if (bar == 0 && shift != 0)
                    next[state] -= changeCost;
                if (usual(bar))
                    forHits(bar, shift,
                            [&](const PulseHit& hit, double beats) { next[state] += pattern.score(hit, beats); });
            }
            sums = std::move(next);
        }
        std::vector<int> shifts(bars_);
        auto state = static_cast<std::size_t>(std::max_element(sums.begin(), sums.end()) - sums.begin());
        for (std::size_t bar = bars_; bar-- > 0; state = from[bar][state])
            shifts[bar] = shiftOf(static_cast<int>(state));
        return shifts;
    }

    const MusicalMap& map_;
    std::span<const PulseHit> hits_;
    Meter meter_;
    Pattern nothing_ = [this] {
        Pattern usual(meter_);
        usual.remove(Pattern(meter_));
        return usual;
    }();
    int first_;
    std::size_t bars_;
};

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
    return std::to_string(meter.beats) + "/" + std::to_string(meter.unit);
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
    int before;   ///< shift of the bars in front of it
    bool returns; ///< to that
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
                         "Bar 1 seems to lie " + beatsInWords(run.shift / 2.0) +
                             (run.shift > 0 ? " later" : " earlier"),
                         std::move(moved)};
    }
    const Change change = changeAt(run.first, run.shift - run.before, meter);
    MapData better = withLonger(map, rate, change.bar, change.halfBeats);
    const Meter is = MusicalMap(better, rate).meterOf(change.bar);
    if (!isMeter(is))
        return std::nullopt;
    if (!run.returns)
        return MapAdvice{MapAdvice::Kind::bars,
                         "A bar of " + inWords(is) + " seems to be at bar " + std::to_string(change.bar) +
                             ", where the map has " + inWords(lines.meterOf(change.bar)),
                         std::move(better)};
    const bool halfBar = change.bar == run.first;
    const double later = (run.shift - run.before) / 2.0;
    return MapAdvice{MapAdvice::Kind::bars,
                     "Bars " + std::to_string(run.first) + " to " + std::to_string(run.end - 1) + " fit " +
                         beatsInWords(later) + (later > 0 ? " later" : " earlier"),
                     halfBar ? withLonger(std::move(better), rate, run.end, change.halfBeats)
                             : withLonger(std::move(better), rate, run.end - 1, -change.halfBeats)};
}

std::vector<MapAdvice> adviceOnBars(const MapData& map, SampleRate rate, std::span<const PulseHit> hits) {
    const MusicalMap lines(map, rate);
    BarShifts search(lines, hits);
    std::vector<MapAdvice> advice;
    for (const Run& run : runsOf(search.find(), search.firstBar()))
        if (run.shift != run.before && run.end - run.first >= fewestBars)
            if (auto found = adviceOnRun(map, rate, run, search.meter()))
                advice.push_back(std::move(*found));
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
