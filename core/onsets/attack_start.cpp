#include "onsets/attack_start.h"

#include "signal/linear_prediction.h"

#include <cmath>
#include <limits>
#include <vector>

namespace lampo {
namespace {

/// Sums of squares from the start; the signals are pre-emphasised, so their mean is zero and power is variance.
std::vector<double> runningPower(std::span<const float> samples) {
    std::vector<double> sums(samples.size() + 1);
    for (std::size_t i = 0; i < samples.size(); ++i)
        sums[i + 1] = sums[i] + static_cast<double>(samples[i]) * samples[i];
    return sums;
}

/// Takes the slow ring of other drums out: a first difference.
std::vector<float> emphasised(std::span<const float> samples) {
    std::vector<float> out(samples.size());
    for (std::size_t i = 1; i < samples.size(); ++i)
        out[i] = samples[i] - 0.97F * samples[i - 1];
    return out;
}

/// What the sound before the attack does not predict: the ring of other strokes goes on as it was, an attack is
/// news.
std::vector<float> unpredicted(std::span<const float> samples, std::size_t quiet) {
    LinearPredictor predictor;
    predictor.learn(samples.first(quiet));
    return predictor.residual(samples);
}

/// From `pick` back to the last place whose neighbourhood is no louder than the quiet before it.
std::size_t leavesQuiet(std::span<const float> x, std::size_t pick) {
    constexpr std::size_t around = 6;
    constexpr std::size_t farthest = 96;
    const std::size_t quietEnd = pick > farthest ? pick - farthest : pick / 2;
    if (quietEnd < 4 * around)
        return pick;
    const auto sums = runningPower(x.first(pick + 1));
    const double quiet = (sums[quietEnd] - sums[0]) / static_cast<double>(quietEnd);
    for (std::size_t at = pick; at > quietEnd + around; --at) {
        const double here = (sums[at] - sums[at - around]) / around;
        if (here <= 2.5 * quiet)
            return at;
    }
    return pick;
}

} // namespace

std::size_t akaikePick(std::span<const float> samples, std::size_t earliest) {
    const std::size_t n = samples.size();
    if (n < 8)
        return 0;
    const auto sums = runningPower(samples);
    constexpr double silence = 1e-14;
    std::size_t best = 0;
    double least = std::numeric_limits<double>::infinity();
    for (std::size_t k = std::max<std::size_t>(2, earliest); k + 2 < n; ++k) {
        const double before = sums[k] / static_cast<double>(k);
        const double after = (sums[n] - sums[k]) / static_cast<double>(n - k);
        const double value = static_cast<double>(k) * std::log(before + silence) +
                             static_cast<double>(n - k - 1) * std::log(after + silence);
        if (value < least) {
            least = value;
            best = k;
        }
    }
    return best;
}

std::size_t attackStart(std::span<const float> samples, std::size_t earliest, std::size_t crossingReach) {
    const auto x = earliest >= 16 * LinearPredictor::order ? unpredicted(samples, earliest) : emphasised(samples);
    const std::size_t start = leavesQuiet(x, akaikePick(x, earliest));
    for (std::size_t back = 0; back < crossingReach && back + 1 <= start; ++back)
        if ((samples[start - back] < 0) != (samples[start - back - 1] < 0))
            return start - back;
    return start;
}

} // namespace lampo
