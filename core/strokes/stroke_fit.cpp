#include "strokes/stroke_fit.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numeric>
#include <vector>

namespace lampo {
namespace {

// ms
constexpr double riseWindow = 1.5; ///< a main rise is sought between two stretches of this length
constexpr double riseFrom = 3;     ///< before the candidate
constexpr double riseTo = 16;      ///< behind it: a hat may have drawn the candidate to its own start
constexpr double comparedBefore = 2, comparedAfter = 9; ///< around the main rise

/// Eight sums side by side: the compiler may not reorder one.
float dot(const float* a, const float* b, std::size_t count) {
    std::array<float, 8> sums{};
    std::size_t i = 0;
    for (; i + 8 <= count; i += 8)
        for (std::size_t lane = 0; lane < 8; ++lane)
            sums[lane] += a[i + lane] * b[i + lane];
    for (; i < count; ++i)
        sums[0] += a[i] * b[i];
    return std::accumulate(sums.begin(), sums.end(), 0.0F);
}

float at(const Sound& sound, std::ptrdiff_t place) {
    return place < 0 || place >= static_cast<std::ptrdiff_t>(sound.size()) ? 0.0F
                                                                           : sound[static_cast<std::size_t>(place)];
}

} // namespace

Sound preEmphasised(std::span<const std::int8_t> samples, float amount) {
    Sound out(samples.size());
    for (std::size_t i = 1; i < samples.size(); ++i)
        out[i] = static_cast<float>(samples[i]) - amount * static_cast<float>(samples[i - 1]);
    return out;
}

Sound midBand(std::span<const std::int8_t> samples) {
    Sound out(samples.size());
    for (std::size_t i = 5; i < samples.size(); ++i)
        out[i] = static_cast<float>(samples[i] + samples[i - 1] - samples[i - 4] - samples[i - 5]);
    return out;
}

std::size_t mainRiseOf(const Sound& sound, std::size_t lead, double perMs) {
    const std::size_t width = samplesIn(riseWindow, perMs);
    std::vector<double> sums(sound.size() + 1);
    for (std::size_t i = 0; i < sound.size(); ++i)
        sums[i + 1] = sums[i] + std::abs(sound[i]);
    std::size_t best = lead;
    double most = -1;
    for (std::size_t i = lead - samplesIn(riseFrom, perMs);
         i < lead + samplesIn(riseTo, perMs) && i + width < sound.size(); ++i) {
        const double rise = (sums[i + width] - sums[i]) - (sums[i] - sums[i - width]);
        if (rise > most) {
            most = rise;
            best = i;
        }
    }
    return best;
}

void average(Sound& mean, const Sound& sound, std::ptrdiff_t lag, float share) {
    for (std::size_t i = 0; i < mean.size(); ++i) {
        const auto place = static_cast<std::ptrdiff_t>(i) + lag;
        if (place >= 0 && place < static_cast<std::ptrdiff_t>(sound.size()))
            mean[i] += share * (sound[static_cast<std::size_t>(place)] - mean[i]);
    }
}

StrokePattern strokePatternOf(const Sound& sound, std::size_t rise, double perMs) {
    StrokePattern pattern{Sound(samplesIn(comparedBefore, perMs) + samplesIn(comparedAfter, perMs)), rise};
    const auto first =
        static_cast<std::ptrdiff_t>(rise) - static_cast<std::ptrdiff_t>(samplesIn(comparedBefore, perMs));
    for (std::size_t i = 0; i < pattern.sound.size(); ++i)
        pattern.sound[i] = at(sound, first + static_cast<std::ptrdiff_t>(i));
    return pattern;
}

float normOf(const StrokePattern& pattern) {
    return std::sqrt(dot(pattern.sound.data(), pattern.sound.data(), pattern.sound.size()) + 1e-9F);
}

StrokeFit bestFit(const StrokePattern& pattern, const Sound& sound, std::ptrdiff_t lag, std::size_t reach,
                  double perMs) {
    const std::size_t length = pattern.sound.size();
    const auto earliest = lag - static_cast<std::ptrdiff_t>(reach);
    const auto first = static_cast<std::ptrdiff_t>(pattern.rise) + earliest -
                       static_cast<std::ptrdiff_t>(samplesIn(comparedBefore, perMs));
    // Everything that any lag needs, in one piece.
    Sound wide(length + 2 * reach);
    std::vector<double> sums(wide.size() + 1);
    for (std::size_t i = 0; i < wide.size(); ++i) {
        wide[i] = at(sound, first + static_cast<std::ptrdiff_t>(i));
        sums[i + 1] = sums[i] + static_cast<double>(wide[i]) * wide[i];
    }
    const float strength = normOf(pattern);
    std::vector<double> values;
    for (std::size_t i = 0; i <= 2 * reach; ++i)
        values.push_back(dot(pattern.sound.data(), wide.data() + i, length) /
                         (strength * std::sqrt(sums[i + length] - sums[i] + 1e-9)));
    const auto best = std::max_element(values.begin(), values.end());
    const auto place = best - values.begin();
    double fraction = 0; // the top of the parabola through the best and its neighbours
    if (place > 0 && place + 1 < static_cast<std::ptrdiff_t>(values.size())) {
        const double a = *(best - 1), b = *best, c = *(best + 1);
        const double curve = a - 2 * b + c;
        fraction = curve < -1e-12 ? std::clamp(0.5 * (a - c) / curve, -0.5, 0.5) : 0;
    }
    return {static_cast<double>(earliest + place) + fraction, *best};
}

} // namespace lampo
