#include "comp/alignment.h"

#include "base/agreement.h"

#include <algorithm>
#include <array>

namespace lampo {
namespace {

constexpr std::size_t maxStrokes = 1500;
constexpr std::size_t fewest = 8;
constexpr double leastShare = 1.0 / 3;
constexpr Milliseconds performancesDiffer{80};
constexpr std::size_t voices = static_cast<std::size_t>(Voice::other) + 1;

std::array<std::vector<std::int64_t>, voices> loudest(std::span<const Hit> hits) {
    std::vector<const Hit*> sorted;
    for (const Hit& hit : hits)
        if (!hit.bare)
            sorted.push_back(&hit);
    if (sorted.size() > maxStrokes) {
        std::nth_element(sorted.begin(), sorted.begin() + maxStrokes, sorted.end(),
                         [](const Hit* a, const Hit* b) { return a->level > b->level; });
        sorted.resize(maxStrokes);
    }
    std::array<std::vector<std::int64_t>, voices> places;
    for (const Hit* hit : sorted)
        places[static_cast<std::size_t>(hit->voice)].push_back(hit->anchor.frame);
    return places;
}

} // namespace

std::optional<Alignment> alignmentOf(std::span<const Hit> reference, std::span<const Hit> other, SampleRate rate) {
    const auto here = loudest(reference);
    const auto there = loudest(other);
    std::vector<std::int64_t> differences;
    std::size_t couldAgree = 0;
    for (std::size_t voice = 0; voice < voices; ++voice) {
        couldAgree += std::min(here[voice].size(), there[voice].size());
        for (const std::int64_t a : here[voice])
            for (const std::int64_t b : there[voice])
                differences.push_back(b - a);
    }
    const auto agreed = agreementOf(std::move(differences), toFrames(performancesDiffer, rate).frames);
    if (!agreed || agreed->count < fewest)
        return std::nullopt;
    const double share = static_cast<double>(agreed->count) / static_cast<double>(couldAgree);
    if (share < leastShare)
        return std::nullopt;
    return Alignment{FrameCount{agreed->value}, std::min(1.0, share)};
}

} // namespace lampo
