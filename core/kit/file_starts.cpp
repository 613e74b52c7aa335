#include "kit/file_starts.h"

#include "base/agreement.h"

#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <optional>

namespace lampo {
namespace {

constexpr Seconds farthest{10};
constexpr Decibels strong{-12};       ///< a stroke to compare by
constexpr Decibels audible{-36};      ///< and what it may have become in another mic
constexpr Milliseconds sameMoment{2}; ///< arrivals of one drum differ by less from stroke to stroke
constexpr std::size_t fewest = 8;     ///< strokes to compare by
constexpr double agreement = 0.6;     ///< of them have to say the same

std::vector<std::int64_t> placesOf(const MicAnalysis& analysis, Decibels least) {
    std::vector<std::int64_t> places;
    for (const Candidate& candidate : analysis.candidates)
        if (candidate.level >= least)
            places.push_back(candidate.at.frame);
    return places;
}

/// How much later the strokes of one mic are heard in another.
struct Lag {
    std::int64_t frames = 0;
    double share = 0; ///< of the strokes that are heard there
};

/// The lag that most strokes agree on: the fullest window of the sorted differences of all pairs.
std::optional<Lag> lagBetween(std::span<const std::int64_t> strokes, std::span<const std::int64_t> heard,
                              SampleRate rate) {
    if (strokes.size() < fewest || heard.size() < fewest)
        return std::nullopt;
    const std::int64_t reach = toFrames(farthest, rate).frames;
    const std::int64_t window = toFrames(sameMoment, rate).frames;
    std::vector<std::int64_t> differences;
    for (const std::int64_t stroke : strokes) {
        auto other = std::lower_bound(heard.begin(), heard.end(), stroke - reach);
        for (; other != heard.end() && *other <= stroke + reach; ++other)
            differences.push_back(*other - stroke);
    }
    const auto agreed = agreementOf(std::move(differences), window);
    if (!agreed)
        return std::nullopt;
    return Lag{agreed->value,
               std::min(1.0, static_cast<double>(agreed->count) / static_cast<double>(strokes.size()))};
}

struct MicLag {
    MicIndex mic;
    Lag lag;
};

/// What all mics say about one of them; empty when it has too few strokes.
std::vector<MicLag> lagsFrom(std::size_t reference, std::span<const MicAnalysis* const> analyses, SampleRate rate) {
    std::vector<MicLag> lags;
    const auto strokes = placesOf(*analyses[reference], strong);
    for (MicIndex mic; mic < analyses.size(); ++mic)
        if (mic != reference && analyses[mic])
            if (const auto lag = lagBetween(strokes, placesOf(*analyses[mic], audible), rate);
                lag && lag->share >= agreement)
                lags.push_back({mic, *lag});
    return lags;
}

} // namespace

std::vector<FalseStart> falseStarts(const Session& session, std::span<const MicAnalysis* const> analyses) {
    std::vector<MicLag> lags;
    for (MicIndex mic; mic < analyses.size(); ++mic)
        if (analyses[mic] && (mic == 0 || session.mics[mic].guide)) {
            auto from = lagsFrom(mic, analyses, session.rate);
            from.push_back({mic, {0, 1}});
            if (from.size() > lags.size())
                lags = std::move(from);
        }
    if (lags.size() < 3)
        return {}; // two mics cannot outvote each other
    std::sort(lags.begin(), lags.end(), [](const auto& a, const auto& b) { return a.lag.frames < b.lag.frames; });
    // The largest group that lies within the kit's size started together.
    const std::int64_t size = toFrames(kitSize, session.rate).frames;
    std::size_t together = 0, most = 0;
    for (std::size_t first = 0, last = 0; first < lags.size(); ++first) {
        while (last < lags.size() && lags[last].lag.frames <= lags[first].lag.frames + size)
            ++last;
        if (last - first > most) {
            most = last - first;
            together = first;
        }
    }
    const std::int64_t middle = lags[together + most / 2].lag.frames;
    std::vector<FalseStart> found;
    for (const MicLag& mic : lags)
        if (std::abs(mic.lag.frames - middle) > size)
            found.push_back({mic.mic, FrameCount{mic.lag.frames - middle}, mic.lag.share});
    std::sort(found.begin(), found.end(), [](const auto& a, const auto& b) { return a.mic < b.mic; });
    return found;
}

} // namespace lampo
