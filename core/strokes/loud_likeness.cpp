#include "strokes/loud_likeness.h"

#include "onsets/whitened.h"
#include "signal/norm.h"
#include "signal/sliding_products.h"
#include "strokes/stroke_start.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <map>
#include <span>

namespace lampo {
namespace {

// From the kits in bench/ears.cpp. Likeness: normalised cross-correlation.
constexpr double quietBefore = 2; ///< ms before a candidate what sounds there is not yet its own
constexpr double farthest = 7;    ///< ms that a stroke is moved
constexpr double samePlace = 0.6; ///< ms
/// What is moved is so much like loud strokes where it goes, and less than this share of that where it lies.
struct Moves {
    float like, share;
};
constexpr Moves kindMoves{0.5F, 0.85F}, strokeMoves{0.6F, 0.8F};

/// `wanted` samples from `begin` on; none where not all of them are there, or mean something (see whitened()).
std::optional<std::span<const float>> stretchOf(const Sound& sound, std::ptrdiff_t begin, std::size_t wanted) {
    if (begin < std::ptrdiff_t{LinearPredictor::order} || static_cast<std::size_t>(begin) + wanted > sound.size())
        return std::nullopt;
    return std::span(sound).subspan(static_cast<std::size_t>(begin), wanted);
}

/// How much a stroke, or the strokes of a kind together, are like loud ones: by how much later than they are dated
/// they would begin, from `-reach` to `reach` samples.
class LikenessByLag {
public:
    struct Top {
        std::ptrdiff_t lag;
        float likeness;
    };

    explicit LikenessByLag(std::ptrdiff_t reach)
        : reach_(reach), values_(static_cast<std::size_t>(2 * reach + 1)) {}
    std::ptrdiff_t reach() const { return reach_; }
    float& at(std::ptrdiff_t lag) { return values_[static_cast<std::size_t>(lag + reach_)]; }
    /// Takes in another stroke.
    void add(const LikenessByLag& other) {
        std::transform(values_.begin(), values_.end(), other.values_.begin(), values_.begin(), std::plus());
        ++strokes_;
    }
    /// Where, so near that lag, they are most like loud ones, in their mean.
    Top topNear(std::ptrdiff_t lag, std::ptrdiff_t within) const {
        const auto first = values_.begin() + std::max<std::ptrdiff_t>(lag - within + reach_, 0);
        const auto last = values_.begin() + std::min<std::ptrdiff_t>(lag + within + reach_, 2 * reach_);
        const auto top = std::max_element(first, last + 1);
        return {top - values_.begin() - reach_, *top / static_cast<float>(std::max(strokes_, 1))};
    }
    /// Where what lies at `lag` belongs: there, or where it is most like loud ones.
    std::ptrdiff_t movedFrom(std::ptrdiff_t lag, std::ptrdiff_t samePlaceWithin, Moves moves) const {
        const Top best = topNear(0, reach_);
        const bool stays =
            best.likeness < moves.like || topNear(lag, samePlaceWithin).likeness >= moves.share * best.likeness;
        return stays ? lag : best.lag;
    }

private:
    std::ptrdiff_t reach_;
    std::vector<float> values_;
    int strokes_ = 0; ///< that were added; 0: the values are one stroke's own
};

class LoudStrokes {
public:
    LoudStrokes(const MicAnalysis& mic, const DatedStrokes& loud, const DatedStrokes& soft, SampleRate rate)
        : mic_(mic), perMs_(rate.hz / 1000.0 / static_cast<double>(mic.sounds.factor())),
          length_(samplesIn(templateLength.value, perMs_)) {
        const std::size_t quiet = mic.sounds.lead() - samplesIn(quietBefore, perMs_);
        for (const std::size_t stroke : soft.strokes) {
            const Sound sound = kept(stroke);
            before_.learn(std::span(sound).first(quiet));
        }
        const std::vector<Sound> means = meansOf(loud);
        if (!means.empty())
            slid_.emplace(std::vector<std::span<const float>>(means.begin(), means.end()),
                          mic.sounds.length() + mic.sounds.length() % 2);
    }

    /// Some of them are alike.
    bool known() const { return slid_.has_value(); }
    double perMs() const { return perMs_; }

    LikenessByLag likenessOf(std::size_t stroke, Milliseconds shift) {
        LikenessByLag likeness(static_cast<std::ptrdiff_t>(samplesIn(farthest, perMs_)));
        const Sound sound = whitened(before_, kept(stroke));
        const auto& products = slid_->along(sound);
        for (std::ptrdiff_t lag = -likeness.reach(); lag <= likeness.reach(); ++lag) {
            const std::ptrdiff_t begin = beginOf(shift) + lag;
            if (const auto here = stretchOf(sound, begin, length_))
                for (const std::vector<float>& product : products)
                    likeness.at(lag) =
                        std::max(likeness.at(lag), product[static_cast<std::size_t>(begin)] / normOf(*here));
        }
        return likeness;
    }

private:
    Sound kept(std::size_t stroke) const {
        const auto samples = mic_.sounds.of(stroke);
        return {samples.begin(), samples.end()};
    }

    /// Where what is compared begins.
    std::ptrdiff_t beginOf(Milliseconds shift) const {
        return static_cast<std::ptrdiff_t>(mic_.sounds.lead()) +
               std::lround((shift.value - templateBefore.value) * perMs_);
    }

    /// Of each kind with many strokes, of unit power.
    std::vector<Sound> meansOf(const DatedStrokes& loud) const {
        std::map<std::size_t, std::vector<Sound>> kinds;
        for (std::size_t s = 0; s < loud.strokes.size(); ++s) {
            if (!loud.kindOf[s])
                continue;
            const Sound sound = whitened(before_, kept(loud.strokes[s]));
            if (const auto here = stretchOf(sound, beginOf(loud.dates[s].shift), length_))
                kinds[*loud.kindOf[s]].emplace_back(here->begin(), here->end());
        }
        std::vector<Sound> means;
        for (const auto& [kind, members] : kinds)
            if (members.size() >= manyStrokes)
                means.push_back(meanOf(members));
        return means;
    }

    static Sound meanOf(const std::vector<Sound>& members) {
        Sound mean(members.front().size());
        for (Sound member : members) {
            normalise(member);
            std::transform(mean.begin(), mean.end(), member.begin(), mean.begin(), std::plus());
        }
        normalise(mean);
        return mean;
    }

    const MicAnalysis& mic_;
    double perMs_;
    std::size_t length_; ///< of what is compared
    LinearPredictor before_;
    std::optional<SlidingParts> slid_; ///< their means
};

} // namespace

void beginWhereLikeLoud(const MicAnalysis& mic, const DatedStrokes& loud, DatedStrokes& soft, SampleRate rate) {
    LoudStrokes loudOnes(mic, loud, soft, rate);
    if (!loudOnes.known())
        return;
    std::vector<LikenessByLag> likeness;
    std::map<std::size_t, LikenessByLag> ofKind;
    for (std::size_t s = 0; s < soft.strokes.size(); ++s) {
        likeness.push_back(loudOnes.likenessOf(soft.strokes[s], soft.dates[s].shift));
        if (const auto kind = soft.kindOf[s])
            ofKind.try_emplace(*kind, likeness.back().reach()).first->second.add(likeness.back());
    }
    const auto near = static_cast<std::ptrdiff_t>(samplesIn(samePlace, loudOnes.perMs()));
    for (std::size_t s = 0; s < soft.strokes.size(); ++s) {
        const auto kind = soft.kindOf[s];
        const std::ptrdiff_t lag = kind ? ofKind.at(*kind).movedFrom(0, near, kindMoves) : 0;
        const std::ptrdiff_t moved = likeness[s].movedFrom(lag, near, strokeMoves);
        soft.dates[s].shift.value += static_cast<double>(moved) / loudOnes.perMs();
        soft.dates[s].ownDate = soft.dates[s].ownDate && moved == 0;
    }
}

} // namespace lampo
