#include "onsets/familiar_strokes.h"

#include "onsets/whitened.h"
#include "signal/norm.h"
#include "signal/sliding_products.h"

#include <algorithm>
#include <cmath>
#include <numeric>
#include <optional>

namespace lampo {
namespace {

// From the kits in bench/ears.cpp.
constexpr Decibels strong{-3};           ///< strokes that others are compared with
constexpr std::size_t maxExamples = 200; ///< of them, the loudest
constexpr std::size_t maxKinds = 10;
constexpr std::size_t fewestOfKind = 5;
constexpr double alike = 0.75;   ///< to be of one kind: normalised cross-correlation
constexpr float familiar = 0.5F; ///< to be told
constexpr Milliseconds lagReach{4};
constexpr Milliseconds quietBefore{5}, quietAfter{25}; ///< around a candidate: the rest is between strokes
constexpr double silence = 1e-6; ///< of the loudest example's power: below, likeness is that of rounding errors
constexpr Milliseconds apart{20};
constexpr Milliseconds beforeHeard{25}, behindHeard{40}; ///< nothing is told there: a ring is like itself
constexpr std::size_t blockSize = 8192;

/// A stretch that is like a kind's mean.
struct AlikeStretch {
    std::size_t place = 0; ///< its begin
    float likeness = 0;    ///< normalised cross-correlation
    std::size_t kind = 0;
};

/// Strokes that sound alike, lined up.
struct AlikeStrokes {
    struct Member {
        std::size_t candidate;
        std::size_t place; ///< where what is compared begins
    };
    std::vector<float> mean; ///< of unit power, once all its members are known
    std::vector<Member> members;
    std::ptrdiff_t start = 0; ///< of a stroke, from where what is compared begins
    BandEnergies added{};     ///< by a stroke of unit power
};

class FamiliarFinder {
public:
    FamiliarFinder(const LowRateSound& sound, SampleRate rate, std::span<const Candidate> heard)
        : factor_(sound.factor()), perMs_(rate.hz / 1000.0 / static_cast<double>(factor_)), heard_(heard),
          length_(samples(templateLength)), sound_(sound.samples()) {}

    std::vector<FamiliarStroke> find() {
        whiten();
        sums_.resize(sound_.size() + 1);
        for (std::size_t i = 0; i < sound_.size(); ++i)
            sums_[i + 1] = sums_[i] + static_cast<double>(sound_[i]) * sound_[i];
        sortIntoKinds();
        std::erase_if(kinds_, [](const AlikeStrokes& kind) { return kind.members.size() < fewestOfKind; });
        if (kinds_.empty())
            return {};
        for (AlikeStrokes& kind : kinds_)
            learn(kind);
        std::vector<FamiliarStroke> found;
        for (const AlikeStretch& match : alikeStretches())
            if (const auto stroke = strokeAt(match))
                found.push_back(*stroke);
        return found;
    }

private:
    std::size_t samples(Milliseconds time) const { return static_cast<std::size_t>(time.value * perMs_); }
    std::size_t placeOf(const Candidate& candidate) const {
        return static_cast<std::size_t>(candidate.at.frame) / factor_;
    }

    void whiten() {
        LinearPredictor predictor;
        std::size_t quiet = 0; // from here
        const auto learnUntil = [&](std::size_t end) {
            if (end > quiet + 2 * LinearPredictor::order)
                predictor.learn(std::span(sound_).subspan(quiet, end - quiet));
        };
        for (const Candidate& candidate : heard_) {
            const std::size_t place = std::min(placeOf(candidate), sound_.size());
            learnUntil(place - std::min(place, samples(quietBefore)));
            quiet = place + samples(quietAfter);
        }
        learnUntil(sound_.size());
        sound_ = whitened(predictor, sound_);
    }

    std::span<const float> stretch(std::size_t place) const { return std::span(sound_).subspan(place, length_); }
    double powerAt(std::size_t place) const { return sums_[place + length_] - sums_[place]; }
    float normAt(std::size_t place) const {
        return static_cast<float>(std::sqrt(std::max(leastPower_, powerAt(place))));
    }

    /// The loudest first.
    std::vector<std::size_t> examples() const {
        std::vector<std::size_t> chosen;
        for (std::size_t c = 0; c < heard_.size(); ++c) {
            const std::size_t place = placeOf(heard_[c]);
            if (heard_[c].level >= strong && place >= samples(templateBefore) + samples(lagReach) &&
                place + samples(lagReach) + length_ < sound_.size())
                chosen.push_back(c);
        }
        std::stable_sort(chosen.begin(), chosen.end(),
                         [&](std::size_t a, std::size_t b) { return heard_[a].level > heard_[b].level; });
        chosen.resize(std::min(chosen.size(), maxExamples));
        return chosen;
    }

    /// Where, near a place, the sound is most like the kinds so far.
    AlikeStretch bestNear(std::size_t place) const {
        AlikeStretch best;
        for (std::size_t k = 0; k < kinds_.size(); ++k) {
            const auto& mean = kinds_[k].mean;
            const float norm = normOf(mean);
            for (std::size_t at = place - samples(lagReach); at <= place + samples(lagReach); ++at) {
                const auto here = stretch(at);
                const float like =
                    std::inner_product(here.begin(), here.end(), mean.begin(), 0.0F) / (norm * normAt(at));
                if (like > best.likeness)
                    best = {at, like, k};
            }
        }
        return best;
    }

    void sortIntoKinds() {
        const auto chosen = examples();
        for (const std::size_t c : chosen)
            leastPower_ = std::max(leastPower_, silence * powerAt(placeOf(heard_[c])));
        for (const std::size_t c : chosen) {
            AlikeStretch best = bestNear(placeOf(heard_[c]) - samples(templateBefore));
            if (best.likeness < alike) {
                if (kinds_.size() == maxKinds)
                    continue;
                best = {placeOf(heard_[c]) - samples(templateBefore), 1, kinds_.size()};
                kinds_.push_back({std::vector<float>(length_), {}});
            }
            AlikeStrokes& kind = kinds_[best.kind];
            const auto here = stretch(best.place);
            for (std::size_t i = 0; i < length_; ++i)
                kind.mean[i] += here[i] / normAt(best.place);
            kind.members.push_back({c, best.place});
        }
    }

    /// What a kind's members say together.
    void learn(AlikeStrokes& kind) const {
        normalise(kind.mean);
        std::vector<std::ptrdiff_t> starts;
        float power = 0;
        for (const auto& [candidate, place] : kind.members) {
            starts.push_back(static_cast<std::ptrdiff_t>(placeOf(heard_[candidate])) -
                             static_cast<std::ptrdiff_t>(place));
            const auto here = stretch(place);
            const float strength = std::inner_product(here.begin(), here.end(), kind.mean.begin(), 0.0F);
            power += strength * strength;
            for (std::size_t band = 0; band < bandCount; ++band)
                kind.added[band] += heard_[candidate].added[band];
        }
        for (float& added : kind.added)
            added /= power;
        const auto middle = starts.begin() + std::ssize(starts) / 2;
        std::nth_element(starts.begin(), middle, starts.end());
        kind.start = *middle;
    }

    /// All that are familiar; of those that follow each other within `apart` the one that is most so: a ring is
    /// like its own stroke for long.
    std::vector<AlikeStretch> alikeStretches() const {
        std::vector<std::span<const float>> means;
        for (const AlikeStrokes& kind : kinds_)
            means.emplace_back(kind.mean);
        SlidingParts slid(means, blockSize);
        std::vector<AlikeStretch> found;
        std::size_t last = 0; // that was familiar
        for (std::size_t begin = 0; begin + length_ <= sound_.size(); begin += blockSize - length_ + 1) {
            const auto block = std::span(sound_).subspan(begin, std::min(blockSize, sound_.size() - begin));
            const auto& products = slid.along(block);
            for (std::size_t i = 0; i + length_ <= block.size(); ++i) {
                AlikeStretch here{begin + i, 0, 0};
                for (std::size_t k = 0; k < products.size(); ++k) {
                    const float like = products[k][i] / normAt(begin + i);
                    if (like > here.likeness)
                        here = {begin + i, like, k};
                }
                if (here.likeness < familiar)
                    continue;
                if (found.empty() || here.place - last >= samples(apart))
                    found.push_back(here);
                else if (here.likeness > found.back().likeness)
                    found.back() = here;
                last = here.place;
            }
        }
        return found;
    }

    /// None: it was heard already.
    std::optional<FamiliarStroke> strokeAt(const AlikeStretch& match) const {
        const AlikeStrokes& kind = kinds_[match.kind];
        const auto start = static_cast<std::ptrdiff_t>(match.place) + kind.start;
        const SourceFrame at{std::max<std::ptrdiff_t>(0, start) * static_cast<std::int64_t>(factor_)};
        const auto frames = [&](Milliseconds time) { return static_cast<std::int64_t>(samples(time) * factor_); };
        const auto next = std::lower_bound(heard_.begin(), heard_.end(), at,
                                           [](const Candidate& c, SourceFrame place) { return c.at < place; });
        if ((next != heard_.end() && next->at.frame - at.frame < frames(beforeHeard)) ||
            (next != heard_.begin() && at.frame - std::prev(next)->at.frame < frames(behindHeard)))
            return std::nullopt;
        const float strength = match.likeness * normAt(match.place);
        FamiliarStroke stroke{at, heard_[kind.members.front().candidate].at, kind.added};
        for (float& added : stroke.added)
            added *= strength * strength;
        return stroke;
    }

    std::size_t factor_;
    double perMs_;
    std::span<const Candidate> heard_;
    std::size_t length_;       ///< of what is compared
    std::vector<float> sound_; ///< whitened, once it is known how
    std::vector<double> sums_; ///< of its squares, from the start
    double leastPower_ = 1e-15;
    std::vector<AlikeStrokes> kinds_;
};

} // namespace

std::vector<FamiliarStroke> familiarStrokes(const LowRateSound& sound, SampleRate rate,
                                            std::span<const Candidate> heard) {
    return FamiliarFinder(sound, rate, heard).find();
}

} // namespace lampo
