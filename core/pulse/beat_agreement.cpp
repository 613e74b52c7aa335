#include "pulse/beat_agreement.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <complex>
#include <numbers>

namespace lampo {
namespace {

constexpr double widestRatio = 1.34; // of tempos
constexpr double asGood = 0.97;      // of agreements

/// The sum of the hits as arrows that turn once in each of `perQuarter` parts of a quarter, were the tempo `ratio`
/// times the map's: its length tells how much they agree, its direction where the beats lie.
std::complex<double> turned(std::span<const StrongHit> hits, double ratio, double perQuarter) {
    std::complex<double> sum;
    for (const StrongHit& hit : hits)
        sum += std::polar(hit.weight, 2 * std::numbers::pi * ratio * perQuarter * hit.beats);
    return sum;
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

} // namespace

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

double agreement(std::span<const StrongHit> hits, double ratio) {
    return std::abs(turned(hits, ratio, 1)) + 0.5 * std::abs(turned(hits, ratio, 2)) +
           0.25 * std::abs(turned(hits, ratio, 4));
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

double rounded(std::span<const StrongHit> hits, double bpm, double ratio) {
    const double most = agreement(hits, ratio);
    for (const double grain : {1.0, 0.5, 0.1, 0.01}) {
        const double round = std::round(bpm * ratio / grain) * grain;
        if (round > 0 && agreement(hits, round / bpm) >= asGood * most)
            return round / bpm;
    }
    return ratio;
}

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

} // namespace lampo
