#include "strokes/mean_stroke.h"

#include "strokes/statistics.h"
#include "strokes/stroke_start.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numeric>
#include <optional>

namespace lampo {
namespace {

constexpr Milliseconds riseWindow{1.5};   ///< a main rise is sought between two stretches of this length
constexpr Milliseconds riseFrom{-3};      ///< from the candidate
constexpr Milliseconds riseTo{16};        ///< a hat may have drawn the candidate to its own start
constexpr Milliseconds comparedBefore{2}; ///< what is compared, around the main rise
constexpr Milliseconds comparedAfter{9};
constexpr Milliseconds lagReach{4};
constexpr double alike = 0.75;         ///< to be averaged
constexpr double surelyAlike = 0.97;   ///< no other kind is tried
constexpr std::size_t maxKinds = 10;   ///< of strokes of one drum
constexpr double ample = 0.3;          ///< share of the strokes that shows where all of them begin
constexpr Milliseconds sameStart{0.5}; ///< kinds of one drum begin as far apart at most
/// Loud strokes are told by their edges, soft ones by the middle of their sound: edges near them may be a hat's.
constexpr Decibels softFrom{-14};
constexpr float loudEmphasis = 0.8F;
/// Single strokes' own dates scatter, but where most of them agree, the attack was heard by then, and began no
/// longer before than slow attacks do. From the kits in bench/ears.cpp.
constexpr double agreeWithin = 0.6;                      ///< ms
constexpr double halfAgree = 0.5, nearlyAllAgree = 0.75; ///< shares of the strokes
constexpr std::size_t fewDates = 4, manyDates = 8;
constexpr double slowestLoud = 0.9, slowestSoft = 1.4; ///< ms
/// Loud strokes' starts are sought in what is left of them when the ring of the stroke before is taken out.
constexpr float startEmphasis = 0.85F;

/// A first difference, by so much of the sample before: what rings low does not drown what begins.
Sound emphasised(std::span<const std::int8_t> samples, float amount) {
    Sound out(samples.size());
    for (std::size_t i = 1; i < samples.size(); ++i)
        out[i] = static_cast<float>(samples[i]) - amount * static_cast<float>(samples[i - 1]);
    return out;
}

/// Eight sums side by side: the compiler may not reorder one.
float dot(const float* a, const float* b, std::size_t count) {
    std::array<float, 8> sums{};
    std::size_t i = 0;
    for (; i + 8 <= count; i += 8)
        for (std::size_t lane = 0; lane < 8; ++lane)
            sums[lane] += a[i + lane] * b[i + lane];
    for (; i < count; ++i)
        sums[0] += a[i] * b[i];
    return std::accumulate(sums.begin(), sums.end(), 0.0F);
}

/// Around 1.3 kHz: neither the ring of shells nor the hiss of metal.
Sound middle(std::span<const std::int8_t> samples) {
    Sound out(samples.size());
    for (std::size_t i = 5; i < samples.size(); ++i)
        out[i] = static_cast<float>(samples[i] + samples[i - 1] - samples[i - 4] - samples[i - 5]);
    return out;
}

/// Strokes of one drum that sound alike, lined up.
struct Kind {
    Sound mean;           ///< of the members, each of unit power where it is compared; as they are compared
    Sound plain;          ///< the same, as their starts are sought
    std::size_t rise = 0; ///< the main rise in it
    std::size_t members = 0;
    std::optional<StrokeStart> start{}; ///< none: that cannot be seen
    bool unlikeOthers = false;          ///< one stroke that nothing of the drum's usual ones is like
};

struct Fit {
    double lag = 0; ///< samples: the stroke lies so much later in its sound than the mean in its own
    double likeness = -1;
};

class Dater {
public:
    Dater(const MicAnalysis& mic, std::span<const std::size_t> strokes, SampleRate rate, bool soft)
        : perMs_(rate.hz / 1000.0 / static_cast<double>(mic.sounds.factor())), lead_(mic.sounds.lead()),
          soft_(soft), slowest_(soft ? slowestSoft : slowestLoud) {
        for (const std::size_t stroke : strokes) {
            plain_.push_back(emphasised(mic.sounds.of(stroke), soft ? 0.0F : startEmphasis));
            sounds_.push_back(soft ? middle(mic.sounds.of(stroke))
                                   : emphasised(mic.sounds.of(stroke), loudEmphasis));
            rises_.push_back(mainRise(sounds_.back()));
        }
        order_.resize(strokes.size());
        std::iota(order_.begin(), order_.end(), std::size_t{0});
        std::stable_sort(order_.begin(), order_.end(), [&](std::size_t a, std::size_t b) {
            return mic.candidates[strokes[a]].level > mic.candidates[strokes[b]].level;
        });
    }

    std::vector<StrokeDate> run() {
        sortIntoKinds();
        std::vector<std::vector<std::pair<std::size_t, Fit>>> members(kinds_.size());
        std::vector<std::pair<std::size_t, Fit>> best(sounds_.size());
        for (std::size_t s = 0; s < sounds_.size(); ++s) {
            best[s] = bestKind(s);
            members[best[s].first].emplace_back(s, best[s].second);
        }
        for (std::size_t k = 0; k < kinds_.size(); ++k)
            findStart(kinds_[k], members[k]);
        agree(members);
        std::vector<StrokeDate> dates;
        for (std::size_t s = 0; s < sounds_.size(); ++s) {
            const auto& [k, fit] = best[s];
            double shift = 0; // unlike its drum, or with a start that cannot be seen: as it was heard
            const bool isLike = fit.likeness >= leastLikeness && kinds_[k].start;
            if (isLike)
                shift = (kinds_[k].start->at + fit.lag - static_cast<double>(lead_)) / perMs_;
            dates.push_back({{shift}, std::max(0.0, fit.likeness), !isLike || kinds_[k].unlikeOthers});
        }
        compareWithOwnDates(dates, best);
        return dates;
    }

private:
    /// Loud strokes' means are sharp: they give way only where nearly all strokes speak against them.
    void compareWithOwnDates(std::vector<StrokeDate>& dates,
                             std::span<const std::pair<std::size_t, Fit>> kindOf) const {
        std::vector<std::size_t> all;
        std::vector<std::vector<std::size_t>> ofKind(kinds_.size());
        for (std::size_t s = 0; s < dates.size(); ++s)
            if (!dates[s].ownDate) {
                all.push_back(s);
                ofKind[kindOf[s].first].push_back(s);
            }
        const bool agree = keepNearOwnDates(dates, all, fewDates, soft_ ? halfAgree : nearlyAllAgree);
        if (!agree && !soft_)
            return;
        for (const auto& strokes : ofKind)
            keepNearOwnDates(dates, strokes, agree ? fewDates : manyDates, agree ? nearlyAllAgree : halfAgree);
    }

    /// Where most of the strokes' own dates agree, their start lies at most so much before that, and not behind it.
    /// False where they do not agree, or are fewer than `enough`.
    bool keepNearOwnDates(std::vector<StrokeDate>& dates, std::span<const std::size_t> strokes, std::size_t enough,
                          double share) const {
        if (strokes.size() < enough)
            return false;
        std::vector<double> own; // ms behind the dates by the mean
        for (const std::size_t stroke : strokes)
            own.push_back(-dates[stroke].shift.value);
        const Densest usual = densest(own, agreeWithin);
        if (usual.share < share)
            return false;
        const double later = usual.middle - std::clamp(usual.middle, 0.0, slowest_);
        for (const std::size_t stroke : strokes)
            dates[stroke].shift.value += later;
        return true;
    }

    std::size_t samples(Milliseconds time) const {
        return static_cast<std::size_t>(std::abs(time.value) * perMs_ + 0.5);
    }

    /// Where the loudness grows most, not in dB: that is the drum's own stroke, whatever came softly before.
    std::size_t mainRise(const Sound& sound) const {
        const std::size_t width = samples(riseWindow);
        std::vector<double> sums(sound.size() + 1);
        for (std::size_t i = 0; i < sound.size(); ++i)
            sums[i + 1] = sums[i] + std::abs(sound[i]);
        std::size_t best = lead_;
        double most = -1;
        for (std::size_t i = lead_ - samples(riseFrom); i < lead_ + samples(riseTo) && i + width < sound.size();
             ++i) {
            const double rise = (sums[i + width] - sums[i]) - (sums[i] - sums[i - width]);
            if (rise > most) {
                most = rise;
                best = i;
            }
        }
        return best;
    }

    /// Silence where there is no sound.
    static float at(const Sound& sound, std::ptrdiff_t place) {
        return place < 0 || place >= static_cast<std::ptrdiff_t>(sound.size())
                   ? 0.0F
                   : sound[static_cast<std::size_t>(place)];
    }
    /// What is compared of a sound whose main rise lies there.
    Sound compared(const Sound& sound, std::ptrdiff_t rise) const {
        Sound part(samples(comparedBefore) + samples(comparedAfter));
        for (std::size_t i = 0; i < part.size(); ++i)
            part[i] = at(sound, rise - static_cast<std::ptrdiff_t>(samples(comparedBefore) - i));
        return part;
    }

    Fit fitTo(const Kind& kind, std::size_t stroke) const {
        const auto middle = static_cast<std::ptrdiff_t>(rises_[stroke]) - static_cast<std::ptrdiff_t>(kind.rise);
        const auto reach = static_cast<std::ptrdiff_t>(samples(lagReach));
        const Sound pattern = compared(kind.mean, static_cast<std::ptrdiff_t>(kind.rise));
        const float power = std::sqrt(dot(pattern.data(), pattern.data(), pattern.size()) + 1e-9F);
        // Everything that any lag needs, in one piece.
        Sound wide(pattern.size() + 2 * static_cast<std::size_t>(reach));
        std::vector<double> sums(wide.size() + 1);
        for (std::size_t i = 0; i < wide.size(); ++i) {
            wide[i] = at(sounds_[stroke], static_cast<std::ptrdiff_t>(rises_[stroke] + i) - reach -
                                              static_cast<std::ptrdiff_t>(samples(comparedBefore)));
            sums[i + 1] = sums[i] + static_cast<double>(wide[i]) * wide[i];
        }
        std::vector<double> values;
        for (std::size_t lag = 0; lag <= 2 * static_cast<std::size_t>(reach); ++lag)
            values.push_back(dot(pattern.data(), wide.data() + lag, pattern.size()) /
                             (power * std::sqrt(sums[lag + pattern.size()] - sums[lag] + 1e-9)));
        const auto best = std::max_element(values.begin(), values.end());
        const auto place = best - values.begin();
        double fraction = 0; // the top of the parabola through the best and its neighbours
        if (place > 0 && place + 1 < static_cast<std::ptrdiff_t>(values.size())) {
            const double a = *(best - 1), b = *best, c = *(best + 1);
            const double curve = a - 2 * b + c;
            fraction = curve < -1e-12 ? std::clamp(0.5 * (a - c) / curve, -0.5, 0.5) : 0;
        }
        return {static_cast<double>(middle - reach + place) + fraction, *best};
    }

    std::pair<std::size_t, Fit> bestKind(std::size_t stroke) const {
        std::pair<std::size_t, Fit> best{0, {}};
        for (std::size_t k = 0; k < kinds_.size() && best.second.likeness < surelyAlike; ++k)
            if (const Fit fit = fitTo(kinds_[k], stroke); fit.likeness > best.second.likeness)
                best = {k, fit};
        return best;
    }

    void sortIntoKinds() {
        for (const std::size_t stroke : order_) {
            const auto [k, fit] = bestKind(stroke);
            if (!kinds_.empty() && fit.likeness >= alike)
                join(kinds_[k], stroke, fit);
            else if (kinds_.size() < maxKinds)
                kinds_.push_back({normalised(stroke, sounds_), normalised(stroke, plain_), rises_[stroke], 1, {}});
        }
    }

    Sound normalised(std::size_t stroke, const std::vector<Sound>& of) const {
        Sound sound = of[stroke];
        const Sound part = compared(sounds_[stroke], static_cast<std::ptrdiff_t>(rises_[stroke]));
        const float power = std::sqrt(dot(part.data(), part.data(), part.size()) + 1e-9F);
        for (float& x : sound)
            x /= power;
        return sound;
    }

    void join(Kind& kind, std::size_t stroke, const Fit& fit) const {
        const auto lag = static_cast<std::ptrdiff_t>(std::lround(fit.lag));
        const float share = 1.0F / static_cast<float>(++kind.members);
        average(kind.mean, normalised(stroke, sounds_), lag, share);
        average(kind.plain, normalised(stroke, plain_), lag, share);
    }

    static void average(Sound& mean, const Sound& sound, std::ptrdiff_t lag, float share) {
        for (std::size_t i = 0; i < mean.size(); ++i) {
            const auto place = static_cast<std::ptrdiff_t>(i) + lag;
            if (place >= 0 && place < static_cast<std::ptrdiff_t>(sound.size()))
                mean[i] += share * (at(sound, place) - mean[i]);
        }
    }

    void findStart(Kind& kind, std::span<const std::pair<std::size_t, Fit>> members) const {
        const MainRise typical{sharedEnvelope(kind, members, 0.2), kind.rise};
        kind.start =
            startOf(typical, members.size() < manyStrokes ? Sound() : sharedEnvelope(kind, members, 0.1), perMs_);
    }

    /// The members' envelopes, lined up; at each place the one that only `share` of them are softer than, so that
    /// what came before some of them does not count.
    Sound sharedEnvelope(const Kind& kind, std::span<const std::pair<std::size_t, Fit>> members,
                         double share) const {
        std::vector<Sound> envelopes;
        for (const auto& [stroke, fit] : members)
            if (fit.likeness >= alike || members.size() == 1)
                envelopes.push_back(envelopeOf(normalised(stroke, plain_), perMs_));
        Sound out = envelopeOf(kind.plain, perMs_); // noise is averaged out of it
        if (envelopes.empty())
            return out;
        std::vector<float> values;
        for (std::size_t i = 0; i < out.size(); ++i) {
            values.clear();
            std::size_t e = 0;
            for (const auto& [stroke, fit] : members) {
                if (fit.likeness < alike && members.size() != 1)
                    continue;
                const auto at = static_cast<std::ptrdiff_t>(i) + static_cast<std::ptrdiff_t>(std::lround(fit.lag));
                if (at >= 0 && at < static_cast<std::ptrdiff_t>(out.size()))
                    values.push_back(envelopes[e][static_cast<std::size_t>(at)]);
                ++e;
            }
            if (values.empty())
                continue;
            const auto at =
                values.begin() + static_cast<std::ptrdiff_t>(share * static_cast<double>(values.size()));
            std::nth_element(values.begin(), at, values.end());
            out[i] = std::min(out[i], *at);
        }
        return out;
    }

    /// The kinds of one drum begin alike: laid over the kind with most members by their contours, they have one
    /// start. One is wrong where something else sounds just before its members.
    void agree(std::span<const std::vector<std::pair<std::size_t, Fit>>> members) {
        const auto most =
            std::max_element(members.begin(), members.end(), [](auto& a, auto& b) { return a.size() < b.size(); });
        if (most == members.end() || most->size() < manyStrokes)
            return;
        const Kind& known = kinds_[static_cast<std::size_t>(most - members.begin())];
        std::vector<std::optional<double>> lags;
        std::vector<double> starts;     // in the known kind, once for each member
        std::optional<double> cleanest; // the latest that silence lies before
        for (std::size_t k = 0; k < kinds_.size(); ++k) {
            lags.push_back(members[k].empty() ? std::nullopt
                                              : contourLag(riseOf(known), riseOf(kinds_[k]), perMs_));
            kinds_[k].unlikeOthers = members[k].size() == 1 && !lags[k];
            if (!kinds_[k].start || !lags[k] || members[k].size() < manyStrokes)
                continue;
            const double start = kinds_[k].start->at - *lags[k];
            starts.insert(starts.end(), members[k].size(), start);
            if (kinds_[k].start->outOfSilence &&
                static_cast<double>(members[k].size()) >= ample * static_cast<double>(sounds_.size()))
                cleanest = std::max(cleanest.value_or(start), start);
        }
        if (starts.empty())
            return;
        const double start = cleanest.value_or(quantile(starts, 0.5));
        for (std::size_t k = 0; k < kinds_.size(); ++k)
            if (lags[k] &&
                (!kinds_[k].start || std::abs(kinds_[k].start->at - start - *lags[k]) > sameStart.value * perMs_))
                kinds_[k].start = StrokeStart{start + *lags[k], false};
    }

    MainRise riseOf(const Kind& kind) const { return {envelopeOf(kind.plain, perMs_), kind.rise}; }

    double perMs_;
    std::size_t lead_;
    bool soft_;
    double slowest_;                    ///< ms
    std::vector<Sound> sounds_, plain_; ///< as they are compared, and as their starts are sought
    std::vector<std::size_t> rises_;
    std::vector<std::size_t> order_; ///< the loudest first
    std::vector<Kind> kinds_;
};

} // namespace

std::vector<StrokeDate> dateStrokes(const MicAnalysis& mic, std::span<const std::size_t> strokes,
                                    std::span<const Decibels> levels, SampleRate rate) {
    if (mic.sounds.size() != mic.candidates.size() || strokes.empty())
        return {};
    std::vector<std::size_t> loud, soft; // places in `strokes`
    for (std::size_t s = 0; s < strokes.size(); ++s)
        (levels[s] >= softFrom ? loud : soft).push_back(s);
    std::vector<StrokeDate> dates(strokes.size());
    for (const auto& [places, isSoft] : {std::pair(&loud, false), std::pair(&soft, true)}) {
        std::vector<std::size_t> some;
        for (const std::size_t place : *places)
            some.push_back(strokes[place]);
        if (some.empty())
            continue;
        const auto found = Dater(mic, some, rate, isSoft).run();
        for (std::size_t i = 0; i < some.size(); ++i)
            dates[(*places)[i]] = found[i];
    }
    return dates;
}

} // namespace lampo
