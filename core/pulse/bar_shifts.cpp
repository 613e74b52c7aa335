#include "pulse/bar_shifts.h"

#include <algorithm>

namespace lampo {
namespace {

constexpr double changeCost = 14; // nats, of bars that fit elsewhere than those before

/// Without even what is usual.
Pattern emptyPattern(Meter meter) {
    Pattern pattern(meter);
    pattern.remove(Pattern(meter));
    return pattern;
}

} // namespace

BarShifts::BarShifts(const MusicalMap& map, std::span<const PulseHit> hits)
    : map_(map), hits_(hits), meter_(commonMeter(map, hits)), nothing_(emptyPattern(meter_)),
      first_(map.barAt(hits.front().at)), bars_(static_cast<std::size_t>(map.barAt(hits.back().at) - first_ + 1)) {}

const std::vector<int>& BarShifts::find() {
    found_ = bestSplit();
    for (int round = 0; round < 3; ++round)
        found_ = bestPath(patternOf(found_));
    return found_;
}

double BarShifts::worseBy(int bar, int shift) const {
    const auto index = static_cast<std::size_t>(bar - first_);
    const Pattern pattern = patternOf(found_);
    return score(pattern, index, found_[index]) - score(pattern, index, shift);
}

Pattern BarShifts::patternOf(const std::vector<int>& shifts) const {
    Pattern pattern(meter_);
    for (std::size_t bar = 0; bar < bars_; ++bar)
        pattern.add(played(bar, shifts[bar]));
    return pattern;
}

void BarShifts::forHits(std::size_t bar, int shift, auto&& visit) const {
    const int number = first_ + static_cast<int>(bar);
    const double wholes = shift / 2.0 / meter_.unit;
    const SongFrame begin = map_.at(number, wholes - 1.0 / 16 / meter_.unit);
    const SongFrame end = map_.at(number, wholes + meter_.barInWholes() - 1.0 / 16 / meter_.unit);
    auto hit = std::partition_point(hits_.begin(), hits_.end(), [&](const PulseHit& h) { return h.at < begin; });
    const SongFrame line = map_.at(number, wholes);
    const FrameCount beat = map_.at(number, wholes + 1.0 / meter_.unit) - line;
    for (; hit != hits_.end() && hit->at < end; ++hit)
        visit(*hit, ratio(hit->at - line, beat));
}

/// What one bar holds when it begins so many half beats later.
Pattern BarShifts::played(std::size_t bar, int shift) const {
    Pattern pattern = nothing_;
    if (hasSongMeter(bar))
        forHits(bar, shift, [&](const PulseHit& hit, double beats) { pattern.learn(hit, beats); });
    return pattern;
}

/// How well the pattern explains the bar when it begins so many half beats later, in nats.
double BarShifts::score(const Pattern& pattern, std::size_t bar, int shift) const {
    double sum = 0;
    if (hasSongMeter(bar))
        forHits(bar, shift, [&](const PulseHit& hit, double beats) { sum += pattern.score(hit, beats); });
    return sum;
}

/// All bars where they are, or from one bar on elsewhere, whichever makes them most alike.
std::vector<int> BarShifts::bestSplit() const {
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
std::vector<int> BarShifts::bestPath(const Pattern& pattern) const {
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
            next[state] += score(pattern, bar, shift);
        }
        sums = std::move(next);
    }
    std::vector<int> shifts(bars_);
    auto state = static_cast<std::size_t>(std::max_element(sums.begin(), sums.end()) - sums.begin());
    for (std::size_t bar = bars_; bar-- > 0; state = from[bar][state])
        shifts[bar] = shiftOf(static_cast<int>(state));
    return shifts;
}

} // namespace lampo
