#include "pulse/followed_map.h"

#include "pulse/beat_tracker.h"
#include "pulse/map_check.h"

#include <algorithm>
#include <cmath>

namespace lampo {
namespace {

std::vector<double> straightLine(const std::vector<double>& values) {
    const auto count = static_cast<double>(values.size());
    double sum = 0, product = 0;
    for (std::size_t i = 0; i < values.size(); ++i) {
        sum += values[i];
        product += static_cast<double>(i) * values[i];
    }
    const double centre = (count - 1) / 2, squares = count * (count * count - 1) / 12;
    const double slope = squares > 0 ? (product - centre * sum) / squares : 0;
    std::vector<double> line(values.size());
    for (std::size_t i = 0; i < values.size(); ++i)
        line[i] = sum / count + slope * (static_cast<double>(i) - centre);
    return line;
}

/// Smoothness in per cent as λ: from one that leaves every beat alone to one that leaves only slow waves.
double lambdaOf(double smoothness) {
    return smoothness <= 0 ? 0 : std::pow(10.0, smoothness / 12.5 - 1);
}

/// Times of beats by their number, beyond both ends at the pace found there.
class Beats {
public:
    Beats(std::vector<double> times, std::ptrdiff_t first) : times_(std::move(times)), first_(first) {}

    double at(double number) const {
        const double place = number - static_cast<double>(first_);
        const double last = static_cast<double>(times_.size() - 1);
        const double low = std::clamp(std::floor(place), 0.0, last - 1);
        const auto i = static_cast<std::size_t>(low);
        return times_[i] + (place - low) * (times_[i + 1] - times_[i]);
    }
    double end() const { return static_cast<double>(first_) + static_cast<double>(times_.size() - 1); }

private:
    std::vector<double> times_; ///< seconds
    std::ptrdiff_t first_;      ///< number of the first one
};

} // namespace

std::vector<double> smoothed(const std::vector<double>& values, double lambda) {
    const std::size_t n = values.size();
    if (n < 3 || lambda <= 0)
        return values;
    if (std::isinf(lambda))
        return straightLine(values);
    // (I + λ·DᵀD) x = y with the second differences D: five diagonals, solved as L·Δ·Lᵀ.
    std::vector<double> main(n, 1), one(n, 0), two(n, 0);
    for (std::size_t i = 0; i + 2 < n; ++i) {
        main[i] += lambda;
        main[i + 1] += 4 * lambda;
        main[i + 2] += lambda;
        one[i] -= 2 * lambda;
        one[i + 1] -= 2 * lambda;
        two[i] += lambda;
    }
    std::vector<double> x = values;
    for (std::size_t i = 0; i < n; ++i) {
        if (i + 1 < n) {
            const double factor = one[i] / main[i];
            main[i + 1] -= factor * one[i];
            one[i + 1] -= factor * two[i];
            x[i + 1] -= factor * x[i];
        }
        if (i + 2 < n) {
            const double factor = two[i] / main[i];
            main[i + 2] -= factor * two[i];
            x[i + 2] -= factor * x[i];
        }
    }
    for (std::size_t i = n; i-- > 0;) {
        if (i + 1 < n)
            x[i] -= one[i] * x[i + 1];
        if (i + 2 < n)
            x[i] -= two[i] * x[i + 2];
        x[i] /= main[i];
    }
    return x;
}

Expected<MapData> followedMap(const MapData& map, SampleRate rate, std::span<const PulseHit> hits,
                              double smoothness) {
    const MusicalMap lines(map, rate);
    const Meter first = lines.meterOf(1);
    const Seconds beat{240.0 / map.tempos.front().bpm.value / first.unit};
    std::vector<double> times = trackBeats(hits, rate, beat);
    if (times.size() < fewestStrongHits)
        return fail(ErrorKind::badValue, "There are too few hits to follow the drummer: find hits first");
    times = smoothed(times, smoothness >= 100 ? HUGE_VAL : lambdaOf(smoothness));
    const double origin = static_cast<double>(map.origin.frame) / rate.hz;
    const auto nearest = std::min_element(times.begin(), times.end(), [&](double a, double b) {
        return std::abs(a - origin) < std::abs(b - origin);
    });
    const Beats beats(times, times.begin() - nearest);
    MapData followed = map;
    followed.origin = SongFrame{std::llround(beats.at(0) * rate.hz)};
    followed.tempos.clear();
    double number = 0; // of the first beat of the bar, in the first meter's unit
    for (int bar = 1; bar == 1 || number < beats.end(); ++bar) {
        const double length = lines.meterOf(bar).barInWholes() * first.unit;
        const double bpm = 240 * lines.meterOf(bar).barInWholes() / (beats.at(number + length) - beats.at(number));
        const Bpm tempo{std::clamp(bpm, slowestTempo.value, fastestTempo.value)};
        if (followed.tempos.empty() || std::abs(tempo.value / followed.tempos.back().bpm.value - 1) > 1e-9)
            followed.tempos.push_back({bar, tempo});
        number += length;
    }
    return followed;
}

} // namespace lampo
