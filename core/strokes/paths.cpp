#include "strokes/paths.h"

#include "strokes/statistics.h"

#include <algorithm>
#include <optional>

namespace lampo {
namespace {

constexpr double latestArrival = 9;  ///< sound crosses a kit in under 8 ms
constexpr std::size_t fewest = 3;    ///< strokes to learn from
constexpr double seldom = 0.35;      ///< share of strokes below which a drum is not heard in a mic
constexpr double steadyWithin = 1.2; ///< ms
constexpr double hidden = 2;         ///< a band of the stroke must stand out by this factor of power to be compared

struct Heard {
    std::array<std::vector<double>, bandCount> bands;  ///< dB against the same band of the stroke in its own mic
    std::array<std::vector<double>, bandCount> shapes; ///< dB against its level there
    std::vector<double> lates;
    std::size_t strokes = 0; ///< heard or not
    std::size_t ahead = 0;   ///< of them, those before which something was heard, and nothing behind

    DrumPath path(double share) {
        DrumPath path;
        if (lates.size() < fewest || static_cast<double>(lates.size()) < seldom * static_cast<double>(strokes))
            return path;
        path.strokes = lates.size();
        path.share = static_cast<double>(lates.size()) / static_cast<double>(strokes);
        path.ahead = static_cast<double>(ahead) / static_cast<double>(strokes);
        const Densest usual = densest(lates, steadyWithin);
        path.steadiness = usual.share;
        path.late = {usual.middle};
        for (std::size_t band = 0; band < bandCount; ++band) {
            if (bands[band].size() >= fewest)
                path.gain[band] = static_cast<float>(powerOfDecibels(quantile(bands[band], share)));
            path.shape[band] = static_cast<float>(powerOfDecibels(quantile(shapes[band], share)));
        }
        return path;
    }
};

} // namespace

void Paths::learn(const Moments& moments, std::span<const std::size_t> strokes, const Learning& how,
                  const std::function<bool(const Event&, const Event&)>& isCause) {
    if (strokes.empty())
        return;
    const auto& events = moments.events();
    const std::size_t drum = events[strokes.front()].witness;
    std::vector<Heard> heard(size_);
    std::vector<std::optional<std::size_t>> answer(size_); // of each witness, the loudest that may be this stroke's
    std::vector<bool> before(size_);                       // whether it heard something just before that
    for (const std::size_t e : strokes) {
        const Event& stroke = events[e];
        std::fill(answer.begin(), answer.end(), std::nullopt);
        std::fill(before.begin(), before.end(), false);
        moments.forNear(e, latestArrival, latestArrival, [&](std::size_t o) {
            if (events[o].at < stroke.at - how.earliest) {
                before[events[o].witness] = true;
                return;
            }
            auto& loudest = answer[events[o].witness];
            if (!loudest || events[o].level > events[*loudest].level)
                loudest = o;
        });
        for (std::size_t w = 0; w < size_; ++w) {
            if (w == drum || (answer[w] && isCause(events[*answer[w]], stroke)))
                continue;
            Heard& list = heard[w];
            ++list.strokes;
            if (!answer[w]) {
                list.ahead += before[w] ? 1 : 0;
                continue;
            }
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
            at(drum, w) = heard[w].path(how.share);
}

Decibels lossOf(const DrumPath& path, const DrumModel& drum) {
    float own = 0, there = 0;
    for (std::size_t band = 0; band < bandCount; ++band) {
        own += drum.profile[band];
        there += path.gain[band] * drum.profile[band];
    }
    return {decibelsOfPower(there) - decibelsOfPower(own)};
}

Decibels bleedOf(const DrumPath& path, const DrumModel& drum, const BandEnergies& weights) {
    BandEnergies strong{};
    for (std::size_t band = 0; band < bandCount; ++band)
        strong[band] = path.gain[band] * drum.profile[band];
    return {weightedDecibels(strong, weights) + drum.strong.value};
}

} // namespace lampo
