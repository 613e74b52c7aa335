#include "hits/bleed.h"

#include <algorithm>
#include <cmath>

namespace lampo {
namespace {

constexpr Milliseconds together{9}; ///< sound crosses a kit in under 8 ms
constexpr Decibels loudEnough{-8};  ///< a stroke to learn from
constexpr Decibels margin{5};       ///< what bleed may exceed its prediction by
constexpr Decibels neverHeard{-60};
constexpr std::size_t fewest = 3; ///< strokes to learn from

/// The loudest candidate within `together` of a place, walking forward through one guide's list.
class Companion {
public:
    Companion(std::span<const Candidate> candidates, SampleRate rate)
        : candidates_(candidates), reach_(toFrames(together, rate)) {}

    const Candidate* near(SourceFrame at) {
        while (begin_ < candidates_.size() && candidates_[begin_].at < at - reach_)
            ++begin_;
        const Candidate* loudest = nullptr;
        for (std::size_t i = begin_; i < candidates_.size() && candidates_[i].at <= at + reach_; ++i)
            if (!loudest || candidates_[i].level > loudest->level)
                loudest = &candidates_[i];
        return loudest;
    }

private:
    std::span<const Candidate> candidates_;
    FrameCount reach_;
    std::size_t begin_ = 0;
};

std::vector<Companion> companionsOf(std::span<const GuideCandidates> guides, SampleRate rate) {
    std::vector<Companion> companions;
    for (const auto& guide : guides)
        companions.emplace_back(guide.candidates, rate);
    return companions;
}

/// The upper quartile: a stroke whose bleed was drowned by something else says nothing about how loud bleed can be.
Decibels typical(std::vector<double>& values) {
    if (values.size() < fewest)
        return neverHeard;
    const auto quartile = values.begin() + static_cast<std::ptrdiff_t>(values.size() * 3 / 4);
    std::nth_element(values.begin(), quartile, values.end());
    return {*quartile};
}

} // namespace

BleedMatrix BleedMatrix::learn(std::span<const GuideCandidates> guides, SampleRate rate) {
    BleedMatrix matrix;
    matrix.size_ = guides.size();
    matrix.levels_.assign(guides.size() * guides.size(), neverHeard);
    for (std::size_t drum = 0; drum < guides.size(); ++drum) {
        auto companions = companionsOf(guides, rate);
        std::vector<std::vector<double>> heard(guides.size());
        for (const Candidate& stroke : guides[drum].candidates) {
            if (stroke.level < loudEnough)
                continue;
            for (std::size_t mic = 0; mic < guides.size(); ++mic) {
                if (mic == drum)
                    continue;
                const Candidate* other = companions[mic].near(stroke.at);
                // As loud as its own strokes: struck together, nothing to learn.
                if (!other || other->level < loudEnough)
                    heard[mic].push_back(other ? other->level.value - stroke.level.value : neverHeard.value);
            }
        }
        for (std::size_t mic = 0; mic < guides.size(); ++mic)
            if (mic != drum)
                matrix.levels_[drum * guides.size() + mic] = typical(heard[mic]);
    }
    return matrix;
}

std::vector<std::vector<std::size_t>> explainBleed(std::span<const GuideCandidates> guides,
                                                   const BleedMatrix& matrix, SampleRate rate) {
    std::vector<std::vector<std::size_t>> explained(guides.size());
    for (std::size_t mic = 0; mic < guides.size(); ++mic) {
        auto companions = companionsOf(guides, rate);
        for (const Candidate& candidate : guides[mic].candidates) {
            std::size_t by = mic;
            double loudest = -200;
            double power = 0; // of all other drums' strokes together, as this mic should hear them
            for (std::size_t drum = 0; drum < guides.size(); ++drum) {
                const Candidate* stroke = drum == mic ? nullptr : companions[drum].near(candidate.at);
                if (!stroke)
                    continue;
                const double predicted = stroke->level.value + matrix.at(drum, mic).value;
                power += std::pow(10.0, predicted / 10.0);
                if (predicted > loudest) {
                    loudest = predicted;
                    by = drum;
                }
            }
            const bool bleed = power > 0 && candidate.level.value <= 10.0 * std::log10(power) + margin.value;
            explained[mic].push_back(bleed ? by : mic);
        }
    }
    return explained;
}

} // namespace lampo
