#include "strokes/mean_stroke.h"

#include "strokes/loud_likeness.h"
#include "strokes/own_dates.h"
#include "strokes/statistics.h"
#include "strokes/stroke_fit.h"
#include "strokes/stroke_start.h"

#include <algorithm>
#include <cmath>
#include <numeric>
#include <optional>
#include <utility>

namespace lampo {
namespace {

constexpr Milliseconds lagReach{4};
constexpr double alike = 0.75;         ///< to be averaged
constexpr double surelyAlike = 0.97;   ///< no other kind is tried
constexpr std::size_t maxKinds = 10;   ///< of strokes of one drum
constexpr double ample = 0.3;          ///< share of the strokes that shows where all of them begin
constexpr Milliseconds sameStart{0.5}; ///< kinds of one drum begin as far apart at most
constexpr std::size_t sureStart = 10;  ///< strokes
constexpr Milliseconds intoAttack{3};  ///< from a kind's start: around there its contour is laid over others'
/// Loud strokes are told by their edges, soft ones by the middle of their sound: edges near them may be a hat's.
constexpr Decibels softFrom{-14};
constexpr float loudEmphasis = 0.8F;
constexpr Milliseconds softBegins{-4}; ///< from the candidate: hardly any sooner
/// Loud strokes that slipped are sought where own dates say.
constexpr Milliseconds slipReach{0.8};
constexpr double surelyThere = 0.8; ///< likeness
constexpr double lessLike = 0.1;    ///< than where they slipped to
/// The mean of a few strokes lies no farther from where they were heard, unless the drum's other strokes confirm
/// it.
constexpr Milliseconds farthestOfFew{4};
/// To begin where loud strokes do. From the kits in bench/ears.cpp: what is not alike stays below 0.6.
constexpr double asLoud = 0.85;
constexpr Milliseconds farthestRise{8}; ///< between their main rises
/// Familiar strokes begin where the soft kind does that they are most like: they were told by loud ones, which may
/// fit a period of the shell beside.
constexpr Milliseconds familiarReach{5};
constexpr double likeKnown = 0.6;
/// Loud strokes' starts are sought in what is left of them when the ring of the stroke before is taken out.
constexpr float startEmphasis = 0.85F;

/// Strokes of one drum that sound alike, lined up.
struct Kind {
    Sound mean;           ///< of the members, each of unit power where it is compared; as they are compared
    Sound plain;          ///< the same, as their starts are sought
    std::size_t rise = 0; ///< the main rise in it
    std::size_t members = 0;
    std::optional<StrokeStart> start{}; ///< none: that cannot be seen
    std::optional<double> begins{};     ///< ms that a stroke lies behind what its lag says, once they are dated
    bool unlikeOthers = false;          ///< one stroke that nothing of the drum's usual ones is like
    bool beginsAsUsual = false;         ///< its start is the same place as that of the drum's usual strokes
};

/// The kind a stroke is most like, and how it fits.
struct Match {
    std::size_t kind = 0;
    StrokeFit fit{};
};

class Dater {
public:
    Dater(const MicAnalysis& mic, std::vector<std::size_t> strokes, SampleRate rate, bool soft)
        : mic_(mic), strokes_(std::move(strokes)),
          perMs_(rate.hz / 1000.0 / static_cast<double>(mic.sounds.factor())), lead_(mic.sounds.lead()),
          soft_(soft) {
        for (const std::size_t stroke : strokes_) {
            plain_.push_back(preEmphasised(mic.sounds.of(stroke), soft ? 0.0F : startEmphasis));
            sounds_.push_back(soft ? midBand(mic.sounds.of(stroke))
                                   : preEmphasised(mic.sounds.of(stroke), loudEmphasis));
            rises_.push_back(mainRiseOf(sounds_.back(), lead_, perMs_));
        }
        order_.resize(strokes_.size());
        std::iota(order_.begin(), order_.end(), std::size_t{0});
        std::stable_sort(order_.begin(), order_.end(), [&](std::size_t a, std::size_t b) {
            return mic.candidates[strokes_[a]].level > mic.candidates[strokes_[b]].level;
        });
    }

    /// `known`: means of loud strokes, which begin where a candidate lies in its sound; see loudMeans().
    DatedStrokes run(std::span<const StrokePattern> known = {}) {
        sortIntoKinds();
        std::vector<std::vector<std::pair<std::size_t, StrokeFit>>> members(kinds_.size());
        std::vector<Match> best(sounds_.size());
        for (std::size_t s = 0; s < sounds_.size(); ++s) {
            best[s] = bestKind(s);
            members[best[s].kind].emplace_back(s, best[s].fit);
        }
        for (std::size_t k = 0; k < kinds_.size(); ++k)
            findStart(kinds_[k], members[k]);
        agree(members);
        if (!soft_)
            undoSlips(best);
        std::vector<StrokeDate> dates;
        for (const Match& match : best) {
            const auto shift = plausible(shiftBy(match), kinds_[match.kind]); // or else as it was heard
            dates.push_back({{shift.value_or(0)},
                             std::max(0.0, match.fit.likeness),
                             !shift || kinds_[match.kind].unlikeOthers});
            kindOf_.push_back(match.kind);
        }
        keepNearOwnDates(dates, kindOf_, soft_);
        beginAs(known, best, dates);
        for (std::size_t s = 0; s < dates.size(); ++s)
            if (!dates[s].ownDate)
                kinds_[best[s].kind].begins = dates[s].shift.value - best[s].fit.lag / perMs_;
        std::vector<std::optional<std::size_t>> kindOf(dates.size());
        for (std::size_t s = 0; s < dates.size(); ++s)
            if (!dates[s].ownDate)
                kindOf[s] = kindOf_[s];
        return {strokes_, std::move(dates), std::move(kindOf)};
    }

    /// ms from a candidate that is not among them to where it begins, by the kind that it is most like.
    std::optional<double> shiftOf(std::size_t candidate) const {
        const Sound sound = midBand(mic_.sounds.of(candidate));
        StrokeFit best;
        std::optional<double> shift;
        for (const Kind& kind : kinds_) {
            if (kind.members < manyStrokes || !kind.begins)
                continue;
            const StrokeFit fit = bestFit(strokePatternOf(kind.mean, kind.rise, perMs_), sound,
                                          std::lround(-*kind.begins * perMs_), samples(familiarReach), perMs_);
            if (fit.likeness > best.likeness) {
                best = fit;
                shift = fit.lag / perMs_ + *kind.begins;
            }
        }
        return best.likeness >= likeKnown ? shift : std::nullopt;
    }

    /// The means of the kinds with many strokes, as soft strokes are compared, which begin where a candidate lies
    /// in its sound. `dates`: what run() gave.
    std::vector<StrokePattern> loudMeans(std::span<const StrokeDate> dates) const {
        std::vector<Sound> means(kinds_.size(), Sound(mic_.sounds.length()));
        std::vector<std::size_t> members(kinds_.size());
        for (std::size_t s = 0; s < dates.size(); ++s) {
            if (dates[s].ownDate)
                continue;
            Sound sound = midBand(mic_.sounds.of(strokes_[s]));
            const float strength = normOf(strokePatternOf(sound, rises_[s], perMs_));
            for (float& x : sound)
                x /= strength;
            const float share = 1.0F / static_cast<float>(++members[kindOf_[s]]);
            average(means[kindOf_[s]], sound, std::lround(dates[s].shift.value * perMs_), share);
        }
        std::vector<StrokePattern> patterns;
        for (std::size_t k = 0; k < means.size(); ++k)
            if (members[k] >= manyStrokes)
                patterns.push_back(strokePatternOf(means[k], mainRiseOf(means[k], lead_, perMs_), perMs_));
        return patterns;
    }

private:
    /// ms from the candidate to where the stroke begins by its kind's mean. None: it is unlike its drum, or that
    /// cannot be seen.
    std::optional<double> shiftBy(const Match& match) const {
        const auto& start = kinds_[match.kind].start;
        if (match.fit.likeness < leastLikeness || !start)
            return std::nullopt;
        return (start->at + match.fit.lag - static_cast<double>(lead_)) / perMs_;
    }

    /// The mean of a few loud strokes is little better than one of them, and of a drum that rings it may begin
    /// anywhere in the ring.
    std::optional<double> plausible(std::optional<double> shift, const Kind& kind) const {
        const bool alone = !soft_ && kind.members < manyStrokes && !kind.beginsAsUsual;
        return alone && shift && std::abs(*shift) > farthestOfFew.value ? std::nullopt : shift;
    }

    /// A drum that rings is nearly as like itself a period sooner or later. Where own dates agree, a stroke far off
    /// lies where they say, if some kind fits it there.
    void undoSlips(std::vector<Match>& best) const {
        std::vector<double> own; // ms behind the dates by the mean
        for (const Match& match : best)
            if (const auto shift = shiftBy(match))
                own.push_back(-*shift);
        const auto common = commonOwnDate(own);
        if (!common)
            return;
        for (std::size_t s = 0; s < best.size(); ++s) {
            const auto shift = shiftBy(best[s]);
            if (!shift || std::abs(*shift + *common) < leastSlip)
                continue;
            const Match there = bestKindAt(s, static_cast<double>(lead_) - *common * perMs_);
            if (there.fit.likeness >= std::max(surelyThere, best[s].fit.likeness - lessLike))
                best[s] = there;
        }
    }

    /// Soft strokes rise out of the noise late, or seem to begin where a brush swells. Where their mean is like one
    /// of loud strokes, they begin at the same place of it.
    void beginAs(std::span<const StrokePattern> known, std::span<const Match> best,
                 std::vector<StrokeDate>& dates) const {
        std::vector<StrokeFit> fits(kinds_.size());
        for (std::size_t k = 0; k < kinds_.size(); ++k)
            for (const StrokePattern& mean : known) {
                const auto lag =
                    static_cast<std::ptrdiff_t>(kinds_[k].rise) - static_cast<std::ptrdiff_t>(mean.rise);
                const StrokeFit fit = bestFit(mean, kinds_[k].mean, lag, samples(farthestRise), perMs_);
                if (fit.likeness > fits[k].likeness)
                    fits[k] = fit;
            }
        for (std::size_t s = 0; s < dates.size(); ++s)
            if (const auto& [k, fit] = best[s]; !dates[s].ownDate && fits[k].likeness >= asLoud)
                dates[s].shift.value = (fits[k].lag + fit.lag) / perMs_;
    }

    /// Of the kinds that fit the stroke when it begins there, to the nearest ms.
    Match bestKindAt(std::size_t stroke, double start) const {
        Match best;
        for (std::size_t k = 0; k < kinds_.size(); ++k) {
            if (!kinds_[k].start)
                continue;
            const StrokeFit fit = fitNear(kinds_[k], stroke, std::lround(start - kinds_[k].start->at), slipReach);
            if (fit.likeness > best.fit.likeness)
                best = {k, fit};
        }
        return best;
    }

    std::size_t samples(Milliseconds time) const { return samplesIn(std::abs(time.value), perMs_); }

    StrokeFit fitNear(const Kind& kind, std::size_t stroke, std::ptrdiff_t lag, Milliseconds reach) const {
        return bestFit(strokePatternOf(kind.mean, kind.rise, perMs_), sounds_[stroke], lag, samples(reach), perMs_);
    }

    Match bestKind(std::size_t stroke) const {
        Match best;
        for (std::size_t k = 0; k < kinds_.size() && best.fit.likeness < surelyAlike; ++k)
            if (const StrokeFit fit = fitNear(kinds_[k], stroke,
                                              static_cast<std::ptrdiff_t>(rises_[stroke]) -
                                                  static_cast<std::ptrdiff_t>(kinds_[k].rise),
                                              lagReach);
                fit.likeness > best.fit.likeness)
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
        const float strength = normOf(strokePatternOf(sounds_[stroke], rises_[stroke], perMs_));
        for (float& x : sound)
            x /= strength;
        return sound;
    }

    void join(Kind& kind, std::size_t stroke, const StrokeFit& fit) const {
        const auto lag = static_cast<std::ptrdiff_t>(std::lround(fit.lag));
        const float share = 1.0F / static_cast<float>(++kind.members);
        average(kind.mean, normalised(stroke, sounds_), lag, share);
        average(kind.plain, normalised(stroke, plain_), lag, share);
    }

    void findStart(Kind& kind, std::span<const std::pair<std::size_t, StrokeFit>> members) const {
        const MainRise typical{sharedEnvelope(kind, members, 0.2), kind.rise,
                               soft_ ? lead_ - samples(softBegins) : 0};
        kind.start =
            startOf(typical, members.size() < manyStrokes ? Sound() : sharedEnvelope(kind, members, 0.1), perMs_);
        if (soft_ && kind.start) // before loud strokes it is mostly a ring, over which they start at once
            kind.start->at -= kind.start->hidden;
    }

    /// What sounds in nearly all of its members, see sharedEnvelopeOf().
    Sound sharedEnvelope(const Kind& kind, std::span<const std::pair<std::size_t, StrokeFit>> members,
                         double share) const {
        std::vector<ShiftedEnvelope> envelopes;
        for (const auto& [stroke, fit] : members)
            if (fit.likeness >= alike || members.size() == 1)
                envelopes.push_back({envelopeOf(normalised(stroke, plain_), perMs_), std::lround(fit.lag)});
        return sharedEnvelopeOf(envelopeOf(kind.plain, perMs_), envelopes,
                                share); // noise is averaged out of the mean
    }

    /// The kinds of one drum begin alike: laid over the kind with most members by their contours, they have one
    /// start. One is wrong where something else sounds just before its members.
    void agree(std::span<const std::vector<std::pair<std::size_t, StrokeFit>>> members) {
        const auto most =
            std::max_element(members.begin(), members.end(), [](auto& a, auto& b) { return a.size() < b.size(); });
        if (most == members.end() || most->size() < manyStrokes)
            return;
        const Kind& known = kinds_[static_cast<std::size_t>(most - members.begin())];
        std::vector<std::optional<double>> lags;
        std::vector<double> starts;     // in the known kind, once for each member
        std::optional<double> cleanest; // the latest that silence lies before
        for (std::size_t k = 0; k < kinds_.size(); ++k) {
            lags.push_back(members[k].empty() ? std::nullopt : lagBehind(known, kinds_[k], members[k].size()));
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
        for (std::size_t k = 0; k < kinds_.size(); ++k) {
            kinds_[k].beginsAsUsual = lags[k].has_value();
            if (lags[k] &&
                (!kinds_[k].start || std::abs(kinds_[k].start->at - start - *lags[k]) > sameStart.value * perMs_))
                kinds_[k].start = StrokeStart{.at = start + *lags[k]};
        }
    }

    /// Its main rise, or its start and a little more where that comes first: loud drums may swell a second time,
    /// and more than at first.
    MainRise attackOf(const Kind& kind) const {
        MainRise attack{envelopeOf(kind.plain, perMs_), kind.rise};
        if (kind.start && !soft_)
            attack.at =
                std::min(attack.at, static_cast<std::size_t>(std::max(0.0, kind.start->at)) + samples(intoAttack));
        return attack;
    }

    /// Samples by which a kind lies later in its mean than the known one, where they are alike. The start of a few
    /// strokes is not sure: their main rise is laid over the known one's.
    std::optional<double> lagBehind(const Kind& known, const Kind& kind, std::size_t members) const {
        const MainRise attack = attackOf(known);
        MainRise other = attackOf(kind);
        if (members < sureStart)
            other.at = kind.rise - std::min(kind.rise, known.rise - attack.at);
        return contourLag(attack, other, perMs_);
    }

    const MicAnalysis& mic_;
    std::vector<std::size_t> strokes_; ///< among its candidates
    double perMs_;
    std::size_t lead_;
    bool soft_;
    std::vector<Sound> sounds_, plain_; ///< as they are compared, and as their starts are sought
    std::vector<std::size_t> rises_;
    std::vector<std::size_t> order_; ///< the loudest first
    std::vector<Kind> kinds_;
    std::vector<std::size_t> kindOf_; ///< for each stroke, once it is dated
};

/// Those at these places.
template <typename T>
std::vector<T> chosen(std::span<const T> from, const std::vector<std::size_t>& places) {
    std::vector<T> some;
    for (const std::size_t place : places)
        some.push_back(from[place]);
    return some;
}

} // namespace

std::vector<StrokeDate> dateStrokes(const MicAnalysis& mic, std::span<const std::size_t> strokes,
                                    std::span<const Decibels> levels, SampleRate rate) {
    if (mic.sounds.size() != mic.candidates.size() || strokes.empty())
        return {};
    std::vector<std::size_t> loud, soft, familiar; // places in `strokes`
    for (std::size_t s = 0; s < strokes.size(); ++s)
        (mic.candidates[strokes[s]].like ? familiar : levels[s] >= softFrom ? loud : soft).push_back(s);
    Dater loudDater(mic, chosen(strokes, loud), rate, false), softDater(mic, chosen(strokes, soft), rate, true);
    const DatedStrokes loudOnes = loudDater.run();
    DatedStrokes softOnes = softDater.run(loudDater.loudMeans(loudOnes.dates));
    const StrokeDate usual = usualDate(loudOnes.dates);
    for (const std::size_t place : familiar) {
        StrokeDate date = usual;
        if (const auto shift = softDater.shiftOf(strokes[place]))
            date.shift.value = *shift;
        softOnes.strokes.push_back(strokes[place]);
        softOnes.dates.push_back(date);
        softOnes.kindOf.push_back(std::nullopt);
    }
    beginWhereLikeLoud(mic, loudOnes, softOnes, rate);
    std::vector<StrokeDate> dates(strokes.size());
    const auto put = [&](const std::vector<std::size_t>& places, std::span<const StrokeDate> from) {
        for (std::size_t i = 0; i < places.size(); ++i)
            dates[places[i]] = from[i];
    };
    put(loud, loudOnes.dates);
    put(soft, softOnes.dates);
    put(familiar, std::span(softOnes.dates).subspan(soft.size()));
    return dates;
}

} // namespace lampo
