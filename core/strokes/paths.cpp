#include "strokes/paths.h"

#include <algorithm>
#include <cmath>
#include <optional>
#include <tuple>

namespace lampo {
namespace {

constexpr double latestArrival = 9; ///< sound crosses a kit in under 8 ms
constexpr std::size_t fewest = 3;   ///< strokes to learn from
constexpr double seldom = 0.35;     ///< share of strokes below which a drum is not heard in a mic
constexpr double hidden = 2;        ///< a band of the stroke must stand out by this factor of power to be compared

double quantile(std::vector<double>& values, double share) {
    const auto at = values.begin() + static_cast<std::ptrdiff_t>(static_cast<double>(values.size() - 1) * share);
    std::nth_element(values.begin(), at, values.end());
    return *at;
}

/// The share of values in the densest stretch of 1.2, and its middle.
std::pair<double, double> densest(std::vector<double>& values) {
    std::sort(values.begin(), values.end());
    std::ptrdiff_t most = 0;
    auto begin = values.begin();
    for (auto first = values.begin(); first != values.end(); ++first) {
        const auto count = std::upper_bound(first, values.end(), *first + 1.2) - first;
        if (count > most) {
            most = count;
            begin = first;
        }
    }
    return {static_cast<double>(most) / static_cast<double>(values.size()), *(begin + most / 2)};
}

struct Heard {
    std::array<std::vector<double>, bandCount> bands;  ///< dB against the same band of the stroke in its own mic
    std::array<std::vector<double>, bandCount> shapes; ///< dB against its level there
    std::vector<double> lates;
    std::size_t strokes = 0; ///< heard or not

    DrumPath path(double share) {
        DrumPath path;
        if (lates.size() < fewest || static_cast<double>(lates.size()) < seldom * static_cast<double>(strokes))
            return path;
        path.strokes = lates.size();
        path.share = static_cast<double>(lates.size()) / static_cast<double>(strokes);
        std::tie(path.steadiness, path.late.value) = densest(lates);
        for (std::size_t band = 0; band < bandCount; ++band) {
            if (bands[band].size() >= fewest)
                path.gain[band] = static_cast<float>(powerOfDecibels(quantile(bands[band], share)));
            path.shape[band] = static_cast<float>(powerOfDecibels(quantile(shapes[band], share)));
        }
        return path;
    }
};

} // namespace

void Paths::learn(const Moments& moments, std::span<const std::size_t> from, double earliest, double share,
                  const std::function<bool(std::size_t, std::size_t)>& beaten) {
    if (from.empty())
        return;
    const auto& events = moments.events();
    const std::size_t drum = events[from.front()].witness;
    std::vector<Heard> heard(size_);
    std::vector<std::optional<std::size_t>> answer(size_); // of each witness, the loudest that may be this stroke's
    for (const std::size_t e : from) {
        const Event& stroke = events[e];
        std::fill(answer.begin(), answer.end(), std::nullopt);
        moments.forNear(e, earliest, latestArrival, [&](std::size_t o) {
            auto& loudest = answer[events[o].witness];
            if (!loudest || events[o].level > events[*loudest].level)
                loudest = o;
        });
        for (std::size_t w = 0; w < size_; ++w) {
            if (w == drum || (answer[w] && beaten(e, *answer[w])))
                continue;
            Heard& list = heard[w];
            ++list.strokes;
            if (!answer[w])
                continue;
            const Event& other = events[*answer[w]];
            list.lates.push_back(other.at - stroke.at);
            for (std::size_t band = 0; band < bandCount; ++band) {
                // Under what rang there it may have been anything.
                const double there = decibelsOfPower(std::max(other.added[band], 0.3F * other.before[band]));
                list.shapes[band].push_back(there - stroke.level);
                if (stroke.own[band] > hidden * stroke.before[band])
                    list.bands[band].push_back(there - decibelsOfPower(stroke.own[band]));
            }
        }
    }
    for (std::size_t w = 0; w < size_; ++w)
        if (w != drum)
            at(drum, w) = heard[w].path(share);
}

} // namespace lampo
