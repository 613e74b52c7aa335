#include "pulse/pattern.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace lampo {

Pattern::Pattern(Meter meter) : meter_(meter) {
    const auto bins = static_cast<std::size_t>(meter.beats * perBeat);
    counts_.fill(std::vector<double>(bins, 0.5));
    const auto expect = [&](Voice voice, double beat, double count) {
        counts_[static_cast<std::size_t>(voice)][bin(beat)] += count;
    };
    expect(Voice::kick, 0, 4);
    expect(Voice::cymbal, 0, 4);
    if (meter.beats % 2 == 0) {
        expect(Voice::kick, meter.beats / 2.0, 2);
        for (int beat = 1; meter.beats >= 4 && beat < meter.beats; beat += 2)
            expect(Voice::snare, beat, 8.0 / meter.beats);
    }
    for (std::size_t voice = 0; voice < voiceCount; ++voice)
        for (const double count : counts_[voice])
            sums_[voice] += count;
}

std::size_t Pattern::bin(double beats) const {
    const int bins = meter_.beats * perBeat;
    const int place = static_cast<int>(std::lround(beats * perBeat)) % bins;
    return static_cast<std::size_t>(place < 0 ? place + bins : place);
}

void Pattern::learn(const PulseHit& hit, double beats) {
    const auto voice = static_cast<std::size_t>(hit.voice);
    counts_[voice][bin(beats)] += weightOf(hit);
    sums_[voice] += weightOf(hit);
}

double Pattern::score(const PulseHit& hit, double beats) const {
    const auto voice = static_cast<std::size_t>(hit.voice);
    const auto bins = static_cast<double>(counts_[voice].size());
    return weightOf(hit) * std::log(counts_[voice][bin(beats)] / sums_[voice] * bins);
}

double Pattern::likeness() const {
    double sum = 0;
    for (std::size_t voice = 0; voice < voiceCount; ++voice)
        for (const double count : counts_[voice])
            if (count > 0 && sums_[voice] > 0)
                sum += count * std::log(count / sums_[voice]);
    return sum;
}

void Pattern::add(const Pattern& other) {
    combine(other, 1);
}

void Pattern::remove(const Pattern& other) {
    combine(other, -1);
}

void Pattern::combine(const Pattern& other, double sign) {
    for (std::size_t voice = 0; voice < voiceCount; ++voice) {
        sums_[voice] += sign * other.sums_[voice];
        for (std::size_t i = 0; i < counts_[voice].size(); ++i)
            counts_[voice][i] += sign * other.counts_[voice][i];
    }
}

Meter commonMeter(const MusicalMap& map, std::span<const PulseHit> hits) {
    std::map<std::pair<int, int>, int> bars;
    for (int bar = map.barAt(hits.front().at); bar <= map.barAt(hits.back().at); ++bar)
        ++bars[{map.meterOf(bar).beats, map.meterOf(bar).unit}];
    const auto most = std::max_element(bars.begin(), bars.end(),
                                       [](const auto& a, const auto& b) { return a.second < b.second; });
    return {most->first.first, most->first.second};
}

} // namespace lampo
