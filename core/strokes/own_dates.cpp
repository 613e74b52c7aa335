#include "strokes/own_dates.h"

#include "strokes/statistics.h"

#include <algorithm>
#include <cmath>
#include <optional>

namespace lampo {
namespace {

// From the kits in bench/ears.cpp. Times are ms, shares those of the strokes.
constexpr double agreeWithin = 0.6;
constexpr double halfAgree = 0.5, nearlyAllAgree = 0.75;
constexpr std::size_t fewDates = 4, manyDates = 8;
constexpr double slowestLoud = 0.9, slowestSoft = 1.4;
constexpr double commonWithin = 1.5, commonShare = 0.7;
constexpr double leastSlipOfKind = 6; ///< by a period of a shell; nearer, its strokes may all be heard late

/// Later edges are heard as well, so that a ring may hide where the mean begins and yet not all agree. The earliest
/// that so many agree on is an attack; sooner than that only chance dates a stroke.
struct FirstEdge {
    double share;
    double farthest; ///< that the mean's start may lie before it
    double usual;    ///< that it is put before it otherwise
};
constexpr FirstEdge loudEdge{0.1, 0.9, 0.7}, softEdge{0.35, 2, 1.4};
constexpr double edgeWithin = 0.8;

using Places = std::vector<std::size_t>;

/// ms that the strokes' own dates lie behind those by the mean.
std::vector<double> behindMeans(std::span<const StrokeDate> dates, const Places& strokes) {
    std::vector<double> own;
    for (const std::size_t stroke : strokes)
        own.push_back(-dates[stroke].shift.value);
    return own;
}

void moveLater(std::span<StrokeDate> dates, const Places& strokes, double ms) {
    for (const std::size_t stroke : strokes)
        dates[stroke].shift.value += ms;
}

/// Where most of the strokes' own dates agree, their start lies at most so much before that, and not behind it.
struct Agreement {
    std::size_t enough; ///< strokes
    double share;
    double slowest; ///< ms
};

/// False where they do not agree, or are too few.
bool keepNear(std::span<StrokeDate> dates, const Places& strokes, const Agreement& wanted) {
    if (strokes.size() < wanted.enough)
        return false;
    std::vector<double> own = behindMeans(dates, strokes);
    const Densest usual = densest(own, agreeWithin);
    if (usual.share < wanted.share)
        return false;
    moveLater(dates, strokes, usual.middle - std::clamp(usual.middle, 0.0, wanted.slowest));
    return true;
}

/// Means slip themselves, by more than `least` ms.
void undoSlip(std::span<StrokeDate> dates, const Places& strokes, double least) {
    std::vector<double> own = behindMeans(dates, strokes);
    if (const auto common = commonOwnDate(own); common && std::abs(*common) > least)
        moveLater(dates, strokes, *common);
}

/// A start that lies too far before the first own dates on which some agree was the ring of strokes before.
void keepBehindRing(std::span<StrokeDate> dates, const Places& strokes, const FirstEdge& edge) {
    if (strokes.size() < manyDates)
        return;
    std::vector<double> own = behindMeans(dates, strokes);
    const auto some = static_cast<std::size_t>(std::ceil(edge.share * static_cast<double>(own.size())));
    const std::optional<double> first = earliestMode(own, edgeWithin, std::max(manyDates, some));
    if (first && *first > edge.farthest)
        moveLater(dates, strokes, *first - edge.usual);
}

} // namespace

std::optional<double> commonOwnDate(std::vector<double>& behind) {
    if (behind.size() < manyDates)
        return std::nullopt;
    const Densest usual = densest(behind, commonWithin);
    return usual.share >= commonShare ? std::optional(usual.middle) : std::nullopt;
}

StrokeDate usualDate(std::span<const StrokeDate> dates) {
    std::vector<double> shifts;
    for (const StrokeDate& date : dates)
        if (!date.ownDate)
            shifts.push_back(date.shift.value);
    return {{shifts.empty() ? 0.0 : quantile(shifts, 0.5)}, leastLikeness};
}

void keepNearOwnDates(std::span<StrokeDate> dates, std::span<const std::size_t> kindOf, bool soft) {
    Places all;
    std::vector<Places> ofKind(kindOf.empty() ? 0 : *std::max_element(kindOf.begin(), kindOf.end()) + 1);
    for (std::size_t s = 0; s < dates.size(); ++s)
        if (!dates[s].ownDate) {
            all.push_back(s);
            ofKind[kindOf[s]].push_back(s);
        }
    if (!soft) {
        for (const Places& strokes : ofKind)
            undoSlip(dates, strokes, leastSlipOfKind);
        undoSlip(dates, all, leastSlip);
    }
    const double slowest = soft ? slowestSoft : slowestLoud;
    const bool agree = keepNear(dates, all, {fewDates, soft ? halfAgree : nearlyAllAgree, slowest});
    // Loud strokes' means are sharp: they give way only where nearly all strokes speak against them.
    for (const Places& strokes : ofKind)
        if (agree || soft)
            keepNear(dates, strokes,
                     agree ? Agreement{fewDates, nearlyAllAgree, slowest}
                           : Agreement{manyDates, halfAgree, slowest});
    if (!agree)
        keepBehindRing(dates, all, soft ? softEdge : loudEdge);
}

} // namespace lampo
