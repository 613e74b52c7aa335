#include "hits/bleed.h"

#include <algorithm>
#include <cmath>

namespace lampo {
namespace {

constexpr Milliseconds together{9}; ///< sound crosses a kit in under 8 ms
constexpr Decibels loudEnough{-8};  ///< a stroke to learn from
constexpr Decibels margin{5};       ///< what bleed may exceed its prediction by
constexpr std::size_t fewest = 3;   ///< strokes to learn from
constexpr double seldom = 0.2;      ///< share of strokes below which a drum is not heard in a mic
/// What is heard now and then only, but then as loud as a stroke of the mic's own drum, is one: a hat on every
/// other kick. Bleed as loud as that would be heard each time.
constexpr double usually = 0.6; ///< share of strokes
constexpr Decibels asLoud{-6};
constexpr double bulk = 0.35; ///< share of the heard ones
constexpr double width = 8;   ///< dB, of what lies close together

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

std::vector<Companion> companionsOf(std::span<const MicCandidates> guides, SampleRate rate) {
    std::vector<Companion> companions;
    for (const auto& guide : guides)
        companions.emplace_back(guide.candidates, rate);
    return companions;
}

/// The value that `share` of the values lie below.
double quantile(std::vector<double>& values, double share) {
    const auto at = values.begin() + static_cast<std::ptrdiff_t>(static_cast<double>(values.size()) * share);
    std::nth_element(values.begin(), at, values.end());
    return *at;
}

/// What one mic heard of one drum's clear strokes.
struct Heard {
    std::vector<double> levels; ///< dB against the stroke in its own mic
    std::vector<double> lates;  ///< ms
    std::size_t strokes = 0;    ///< heard or not

    void add(const Candidate& stroke, const Candidate* other, SampleRate rate) {
        ++strokes;
        if (!other)
            return;
        levels.push_back(other->level.value - stroke.level.value);
        lates.push_back(toMilliseconds(other->at - stroke.at, rate).value);
    }

    BleedPath path() {
        BleedPath path;
        path.strokes = levels.size();
        const double heard =
            static_cast<double>(levels.size()) / static_cast<double>(std::max<std::size_t>(1, strokes));
        if (levels.size() < fewest || heard < seldom)
            return path;
        const Decibels level{usual()};
        if (heard < usually && level > asLoud)
            return path;
        path.late = {quantile(lates, 0.5)};
        path.level = level;
        return path;
    }

private:
    /// Bleed is as far below its stroke each time; what was struck together, or drowned in something else, is not.
    /// So of the places where many levels lie close together the lowest is bleed, and of it the upper quartile: a
    /// prediction should not fall short.
    double usual() {
        std::sort(levels.begin(), levels.end());
        const auto many = static_cast<std::ptrdiff_t>(std::ceil(bulk * static_cast<double>(levels.size())));
        std::ptrdiff_t most = 0;
        auto begin = levels.begin();
        for (auto first = levels.begin(); first != levels.end(); ++first) {
            const auto last = std::upper_bound(first, levels.end(), *first + width);
            if (last - first > most) {
                most = last - first;
                begin = first;
            } else if (most >= many && *first > *begin + width) {
                break; // behind the lowest bulk
            }
        }
        return begin[(most - 1) * 3 / 4];
    }
};

} // namespace

BleedMatrix BleedMatrix::learn(std::span<const MicCandidates> guides, std::span<const MicCandidates> listeners,
                               std::size_t mics, SampleRate rate) {
    BleedMatrix matrix;
    matrix.size_ = mics;
    matrix.paths_.resize(mics * mics);
    for (const MicCandidates& drum : guides) {
        auto companions = companionsOf(listeners, rate);
        auto rivals = companionsOf(guides, rate);
        std::vector<Heard> heard(listeners.size());
        for (const Candidate& stroke : drum.candidates) {
            // Louder here than anywhere else, each mic by its own measure: a stroke of this drum.
            const bool own = std::none_of(rivals.begin(), rivals.end(), [&](Companion& rival) {
                const Candidate* other = rival.near(stroke.at);
                return other && other->level > stroke.level;
            });
            if (!own || stroke.level < loudEnough)
                continue;
            for (std::size_t l = 0; l < listeners.size(); ++l) {
                if (listeners[l].mic == drum.mic)
                    continue;
                heard[l].add(stroke, companions[l].near(stroke.at), rate);
            }
        }
        for (std::size_t l = 0; l < listeners.size(); ++l)
            if (listeners[l].mic != drum.mic)
                matrix.paths_[drum.mic * mics + listeners[l].mic] = heard[l].path();
    }
    return matrix;
}

std::vector<std::vector<std::size_t>> explainBleed(std::span<const MicCandidates> guides, const BleedMatrix& matrix,
                                                   SampleRate rate) {
    std::vector<std::vector<std::size_t>> explained(guides.size());
    for (std::size_t mic = 0; mic < guides.size(); ++mic) {
        auto companions = companionsOf(guides, rate);
        for (const Candidate& candidate : guides[mic].candidates) {
            std::size_t by = guides[mic].mic;
            double loudest = -200;
            double power = 0; // of all other drums' strokes together, as this mic should hear them
            for (std::size_t drum = 0; drum < guides.size(); ++drum) {
                const Candidate* stroke = drum == mic ? nullptr : companions[drum].near(candidate.at);
                if (!stroke)
                    continue;
                const double predicted =
                    stroke->level.value + matrix.at(guides[drum].mic, guides[mic].mic).level.value;
                power += std::pow(10.0, predicted / 10.0);
                if (predicted > loudest) {
                    loudest = predicted;
                    by = guides[drum].mic;
                }
            }
            const bool bleed = power > 0 && candidate.level.value <= 10.0 * std::log10(power) + margin.value;
            explained[mic].push_back(bleed ? by : guides[mic].mic);
        }
    }
    return explained;
}

} // namespace lampo
