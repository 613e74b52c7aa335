#include "map/feel.h"

#include <algorithm>
#include <cmath>

namespace lampo {
namespace {

constexpr double samePlace = 1e-6;       // quarters
constexpr double leastApart = 1.0 / 256; // quarters between places as they are played

double playedAt(const FeelPoint& point) {
    return point.quarters + point.late;
}

} // namespace

bool isFeel(const Feel& feel) {
    const auto fine = [&](const FeelPoint& point) {
        return std::isfinite(point.late) && std::abs(point.late) <= feel.bar && std::isfinite(point.level.value) &&
               0 <= point.quarters && point.quarters < feel.bar;
    };
    const auto& points = feel.points;
    return !feel.name.empty() && 0.125 <= feel.bar && feel.bar <= longestFeelBar && !points.empty() &&
           points.size() <= maxFeelPoints && std::all_of(points.begin(), points.end(), fine) &&
           std::adjacent_find(points.begin(), points.end(),
                              [](const FeelPoint& a, const FeelPoint& b) {
                                  return a.quarters >= b.quarters || playedAt(a) >= playedAt(b);
                              }) == points.end() &&
           playedAt(points.back()) < playedAt(points.front()) + feel.bar;
}

Feel feelOf(std::string name, double barQuarters, std::span<const FeltHit> hits) {
    Feel feel{std::move(name), barQuarters, {}};
    std::vector<FeltHit> sorted(hits.begin(), hits.end());
    for (FeltHit& hit : sorted) {
        hit.quarters = std::fmod(hit.quarters, barQuarters);
        if (hit.quarters > barQuarters - samePlace)
            hit.quarters = 0;
    }
    std::sort(sorted.begin(), sorted.end(),
              [](const FeltHit& a, const FeltHit& b) { return a.quarters < b.quarters; });
    for (std::size_t i = 0; i < sorted.size();) {
        FeelPoint sum{sorted[i].quarters, 0, {0}};
        double count = 0;
        for (; i < sorted.size() && sorted[i].quarters - sum.quarters < samePlace; ++i, ++count) {
            sum.late += sorted[i].late;
            sum.level.value += sorted[i].level.value;
        }
        feel.points.push_back({sum.quarters, sum.late / count, {sum.level.value / count}});
    }
    auto& points = feel.points;
    for (std::size_t i = 1; i < points.size(); ++i)
        points[i].late = std::max(points[i].late, playedAt(points[i - 1]) + leastApart - points[i].quarters);
    if (points.size() > 1) { // the last before the first of the next bar
        double latest = playedAt(points.front()) + barQuarters - leastApart;
        for (std::size_t i = points.size(); i-- > 1; latest = playedAt(points[i]) - leastApart)
            points[i].late = std::min(points[i].late, latest - points[i].quarters);
    }
    return feel;
}

double latenessAt(const Feel& feel, double quarters) {
    const auto& points = feel.points;
    if (points.empty())
        return 0;
    const double place = quarters - feel.bar * std::floor(quarters / feel.bar);
    const auto after = std::partition_point(points.begin(), points.end(),
                                            [&](const FeelPoint& p) { return p.quarters < place - samePlace; });
    const FeelPoint& next = after == points.end() ? points.front() : *after;
    const double nextAt = next.quarters + (after == points.end() ? feel.bar : 0);
    if (std::abs(nextAt - place) <= samePlace)
        return next.late;
    const FeelPoint& before = after == points.begin() ? points.back() : *std::prev(after);
    const double beforeAt = before.quarters - (after == points.begin() ? feel.bar : 0);
    const double along = (place - beforeAt) / (nextAt - beforeAt);
    return before.late * (1 - along) + next.late * along;
}

} // namespace lampo
