#include "strokes/who_struck.h"

#include <algorithm>
#include <cmath>
#include <tuple>
#include <utility>

namespace lampo {
namespace {

constexpr double sameMoment = 5;    ///< ms within which one stroke may be what two mics hear
constexpr double leadWorth = 4;     ///< dB that a mic may be softer for each ms that it is earlier
constexpr double mostLead = 2;      ///< ms that count
constexpr double explainsFrom = 4;  ///< ms that bleed may come before its stroke's date
constexpr double explainsTo = 18;   ///< and behind it: reflections, and dates at a stroke's first rustle
constexpr double ringsTo = 45;      ///< and as its sound goes on, softer by
constexpr double fade = 0.1;        ///< dB in each ms more
constexpr double learnWithin = 10;  ///< dB under a strong stroke
constexpr double softest = 45;      ///< dB under a strong stroke: less is nothing
constexpr double mostGain = 5;      ///< dB that a drum may be louder in another mic than in its own
constexpr double leastLoss = -12;   ///< dB from one drum to the other's mic and back
constexpr double suspicious = -15;  ///< dB: louder bleed is believed when it always takes as long
constexpr std::size_t enough = 8;   ///< strokes to tell by whether they are steady
constexpr double fewExplain = -7;   ///< dB under the loudest there that fewer strokes may explain
constexpr double steady = 0.33;     ///< share of strokes; two hands are within 0.6 ms in about a fifth
constexpr double always = 0.7;      ///< share of strokes: bleed as loud as a stroke is heard nearly each time
constexpr double mostTilt = 8;      ///< dB
constexpr double overheadLoss = 8;  ///< dB that a cymbal is softer in a close mic than the loudest there
constexpr double usualOverhead = 8; ///< dB that overheads are softer than close mics; common practice, no source
constexpr double softStroke = 14;   ///< dB under a strong one
constexpr double clearlyAbove = 10; ///< dB above what explains it
constexpr double ownShare = 0.6;    ///< of the drum's profile, in bands that nothing explains
constexpr Decibels metal{-50};      ///< of body: no shell has as little
constexpr double farAbove = 8;      ///< dB
constexpr int rounds = 4;

double weighted(const BandEnergies& energies, const BandEnergies& weights) {
    return decibelsOfPower(weightedPower(energies, weights));
}

double quantile(std::vector<double> values, double share) {
    const auto at = values.begin() + static_cast<std::ptrdiff_t>(static_cast<double>(values.size() - 1) * share);
    std::nth_element(values.begin(), at, values.end());
    return *at;
}

/// The median of those within 10 dB of the second loudest: one crash of sticks does not set the scale.
double strongOf(std::vector<double> levels) {
    if (levels.empty())
        return -200;
    std::sort(levels.rbegin(), levels.rend());
    const double limit = levels[levels.size() < 3 ? 0 : 1] - 10;
    const auto loud = std::find_if(levels.begin(), levels.end(), [&](double level) { return level < limit; });
    return levels[static_cast<std::size_t>(loud - levels.begin()) / 2];
}

struct Share {
    double of = 0, all = 0;
    void add(bool counts) {
        of += counts ? 1 : 0;
        all += 1;
    }
    double value() const { return of / std::max(1.0, all); }
};

class Teller {
public:
    Teller(std::span<const Witness> witnesses, SampleRate rate)
        : witnesses_(witnesses), moments_(witnesses, rate), drums_(witnesses.size()), lacking_(witnesses.size()),
          silenced_(witnesses.size()) {}

    WhoStruck run() {
        trimOverheads();
        lead();
        learnDrums();
        for (int round = 0; round < rounds; ++round) {
            const auto before = std::exchange(silenced_, std::vector<bool>(witnesses_.size()));
            tellAll();
            silenced_ = before;
            silence();
            tellAll();
            learnOverheads();
        }
        tellAll();
        WhoStruck result{drums_, paths_, {}};
        write(result);
        return result;
    }

private:
    std::vector<Event>& events() { return moments_.events(); }

    /// The other is louder, or earlier, by so much that it is rather the cause.
    bool beats(const Event& other, const Event& event) const {
        const double earlier = std::clamp(event.at - other.at, -mostLead, mostLead);
        return other.level + trims_[other.witness] - event.level - trims_[event.witness] + leadWorth * earlier > 0;
    }

    /// Overheads are driven hotter than close mics, or less: for comparing they are brought to what is usual.
    void trimOverheads() {
        std::vector<std::vector<double>> levels(witnesses_.size());
        for (const Event& event : events())
            levels[event.witness].push_back(event.level);
        std::vector<double> close;
        for (std::size_t w = 0; w < witnesses_.size(); ++w)
            if (witnesses_[w].place == Witness::Place::drum && !levels[w].empty())
                close.push_back(strongOf(levels[w]));
        for (const auto& own : levels)
            loud_.push_back(strongOf(own));
        trims_.assign(witnesses_.size(), 0);
        for (std::size_t w = 0; w < witnesses_.size() && !close.empty(); ++w)
            if (witnesses_[w].place == Witness::Place::overhead && !levels[w].empty())
                trims_[w] = *std::max_element(close.begin(), close.end()) - usualOverhead - strongOf(levels[w]);
    }

    /// The first and loudest at a moment is a stroke of its own drum.
    void lead() {
        for (std::size_t e = 0; e < events().size(); ++e) {
            Event& event = events()[e];
            std::size_t beaten = 0;
            moments_.forNear(e, sameMoment, sameMoment,
                             [&](std::size_t o) { beaten += beats(events()[o], event) ? 1 : 0; });
            event.struck = beaten == 0;
            event.own = beaten == 0 ? event.added : BandEnergies{};
            // Overheads come last: they tell of what no close mic does.
            order_.emplace_back(isOverhead(event.witness) ? events().size() : beaten, e);
        }
        std::sort(order_.begin(), order_.end());
    }

    void summarise() {
        std::vector<std::vector<double>> levels(witnesses_.size());
        for (const Event& event : events())
            if (event.struck)
                levels[event.witness].push_back(weighted(event.own, witnesses_[event.witness].weights));
        for (std::size_t w = 0; w < witnesses_.size(); ++w) {
            drums_[w].asked = true;
            drums_[w].strokes = levels[w].size();
            drums_[w].strong = {strongOf(std::move(levels[w]))};
            drums_[w].heard = isOverhead(w) || (drums_[w].strokes > 0 && !silenced_[w]);
        }
        std::vector<std::array<std::vector<double>, bandCount>> bands(witnesses_.size());
        for (const Event& event : events())
            if (event.struck && levelOf(event) >= drums_[event.witness].strong.value - learnWithin)
                for (std::size_t band = 0; band < bandCount; ++band)
                    bands[event.witness][band].push_back(decibelsOfPower(event.own[band]) - levelOf(event));
        for (std::size_t w = 0; w < witnesses_.size(); ++w)
            for (std::size_t band = 0; band < bandCount; ++band)
                drums_[w].profile[band] = bands[w][band].empty()
                                              ? 0.0F
                                              : static_cast<float>(powerOfDecibels(quantile(bands[w][band], 0.5)));
        for (std::size_t w = 0; w < witnesses_.size(); ++w) {
            BandEnergies& profile = drums_[w].profile;
            const double body = decibelsOfPower(profile[0] + profile[1]) - decibelsOfPower(profile[2] + profile[3]);
            lacking_[w] = std::max(0.0, witnesses_[w].body.value - body);
            profile[2] *= static_cast<float>(powerOfDecibels(-lacking_[w]));
            profile[3] *= static_cast<float>(powerOfDecibels(-lacking_[w]));
        }
    }

    /// Two dates are not exact; and what an overhead tells of may stand nearer to another mic.
    double earliestOf(const Witness& witness) { return witness.place == Witness::Place::overhead ? 6 : 2; }

    double levelOf(const Event& event) const { return weighted(event.own, witnesses_[event.witness].weights); }

    void learnDrums() {
        for (Event& event : events()) { // for now, what is loud in its mic is its drum's
            event.struck = event.level >= loud_[event.witness] - learnWithin;
            event.own = event.struck ? event.added : BandEnergies{};
        }
        summarise();
        paths_ = Paths(witnesses_.size());
        for (std::size_t w = 0; w < witnesses_.size(); ++w)
            if (!isOverhead(w)) {
                std::vector<std::size_t> loud;
                for (std::size_t e = 0; e < events().size(); ++e)
                    if (events()[e].witness == w && events()[e].level >= loud_[w] - learnWithin)
                        loud.push_back(e);
                learn(loud, 2, 0.15);
            }
        forbid();
    }

    void learn(const std::vector<std::size_t>& strokes, double earliest, double share) {
        for (const std::size_t e : strokes)
            if (!events()[e].struck)
                events()[e].own = events()[e].added;
        paths_.learn(moments_, strokes, earliest, share, [this](std::size_t e, std::size_t o) {
            return !isOverhead(events()[e].witness) && beats(events()[o], events()[e]);
        });
    }

    void learnOverheads() {
        for (std::size_t w = 0; w < witnesses_.size(); ++w)
            if (isOverhead(w)) {
                std::vector<std::size_t> strokes;
                for (std::size_t e = 0; e < events().size(); ++e)
                    if (events()[e].witness == w && events()[e].struck &&
                        levelOf(events()[e]) >= drums_[w].strong.value - learnWithin)
                        strokes.push_back(e);
                learn(strokes, 6, 0.4);
            }
        forbid();
    }

    bool isOverhead(std::size_t witness) const { return witnesses_[witness].place == Witness::Place::overhead; }

    /// Bleed comes each time, takes as long, and sounds like its drum. A path that would explain what is loudest in
    /// a mic and does not is two drums that are often struck together.
    void doubtTheUnsteady(std::size_t drum, std::size_t witness) {
        DrumPath& path = paths_.at(drum, witness);
        const double against = bleedOf(drum, witness) - loud_[witness];
        if (isOverhead(drum) && !isOverhead(witness) && against > -overheadLoss)
            weaken(path, -overheadLoss - against);
        else if (path.strokes < enough && against > fewExplain)
            weaken(path, fewExplain - against);
        else if (against > suspicious &&
                 (path.steadiness < steady || path.share < always || tilt(drum, witness) > mostTilt))
            weaken(path, suspicious - against);
    }

    /// dB of a strong stroke of a drum in another witness's weighted bands.
    double bleedOf(std::size_t drum, std::size_t witness) const {
        const DrumPath& path = paths_.at(drum, witness);
        BandEnergies strong{};
        for (std::size_t band = 0; band < bandCount; ++band)
            strong[band] = path.gain[band] * drums_[drum].profile[band] *
                           static_cast<float>(powerOfDecibels(drums_[drum].strong.value));
        return weighted(strong, witnesses_[witness].weights);
    }

    /// No drum is much louder in another mic than in its own; and of two that each seem to be heard in the other's
    /// mic with hardly a loss, whatever the preamplifiers, the one is the other's bleed.
    void forbid() {
        for (std::size_t one = 0; one < witnesses_.size(); ++one)
            for (std::size_t other = 0; other < one; ++other) {
                const double trim = trims_[other] - trims_[one];
                const double there = bleedOf(one, other) - drums_[one].strong.value + trim;
                const double back = bleedOf(other, one) - drums_[other].strong.value - trim;
                doubtTheUnsteady(one, other);
                doubtTheUnsteady(other, one);
                if (isOverhead(one) != isOverhead(other))
                    continue; // what overheads tell of stands anywhere
                if (there > mostGain || (there + back > leastLoss && there > back))
                    paths_.at(one, other) = {};
                if (back > mostGain || (there + back > leastLoss && there <= back))
                    paths_.at(other, one) = {};
            }
    }

    /// dB by which the path favours one of the drum's strong bands over another: bleed is duller than the drum at
    /// most.
    double tilt(std::size_t drum, std::size_t witness) const {
        const DrumPath& path = paths_.at(drum, witness);
        double least = 200, most = -200;
        for (std::size_t band = 0; band < bandCount; ++band)
            if (decibelsOfPower(drums_[drum].profile[band]) > -15 && path.gain[band] > 0) {
                least = std::min(least, decibelsOfPower(path.gain[band]));
                most = std::max(most, decibelsOfPower(path.gain[band]));
            }
        return most - least;
    }

    static void weaken(DrumPath& path, double decibels) {
        for (BandEnergies* bands : {&path.gain, &path.shape})
            for (float& gain : *bands)
                gain *= static_cast<float>(powerOfDecibels(decibels));
    }

    /// What the other drums' strokes make this event's mic hear, band by band; `most` with the margins.
    struct Explained {
        BandEnergies middle{}, most{};
        std::size_t by;
    };
    Explained explain(std::size_t e) const {
        const Event& event = moments_.events()[e];
        Explained explained{{}, {}, event.witness};
        Explained fromAbove{
            {}, {}, event.witness}; // what overheads tell of is never as loud in a close mic as its own drum
        double loudest = 0;
        moments_.forNear(e, ringsTo, explainsFrom + 4, [&](std::size_t o) {
            const Event& stroke = moments_.events()[o];
            if (!stroke.struck || stroke.at - event.at > (isOverhead(stroke.witness) ? 8 : explainsFrom))
                return;
            const DrumPath& path = paths_.at(stroke.witness, event.witness);
            const float whole = weightedPower(stroke.own, witnesses_[stroke.witness].weights);
            BandEnergies here{};
            const double late = event.at - stroke.at - explainsTo;
            const auto faded = static_cast<float>(late > 0 ? powerOfDecibels(-fade * late) : 1);
            for (std::size_t band = 0; band < bandCount; ++band) {
                here[band] = faded * std::max(path.gain[band] * stroke.own[band], path.shape[band] * whole);
                (isOverhead(stroke.witness) ? fromAbove.middle : explained.middle)[band] += here[band];
                (isOverhead(stroke.witness) ? fromAbove.most : explained.most)[band] +=
                    path.margin[band] * here[band];
            }
            const double power = weightedPower(here, witnesses_[event.witness].weights);
            if (power > loudest) {
                loudest = power;
                explained.by = stroke.witness;
            }
        });
        const double over = isOverhead(event.witness)
                                ? 0
                                : weighted(fromAbove.most, witnesses_[event.witness].weights) -
                                      (loud_[event.witness] - overheadLoss);
        const auto kept = static_cast<float>(powerOfDecibels(-std::max(0.0, over)));
        for (std::size_t band = 0; band < bandCount; ++band) {
            explained.middle[band] += kept * fromAbove.middle[band];
            explained.most[band] += kept * fromAbove.most[band];
        }
        return explained;
    }

    /// As loud as its drum may have been, by what each band permits: dB in the weighted bands. One band may lack.
    double permitted(const Event& event) const {
        const KnownDrum& drum = drums_[event.witness];
        std::array<double, bandCount> limits{};
        for (std::size_t band = 0; band < bandCount; ++band) {
            const double heard = decibelsOfPower(event.added[band] + event.before[band]);
            const double softer = std::max(0.0, drum.strong.value - event.level);
            const double darker = band >= 2 ? 8 + 0.35 * softer : 7; // soft strokes are duller
            limits[band] = heard - decibelsOfPower(drum.profile[band]) + darker;
        }
        std::sort(limits.begin(), limits.end());
        return limits[1];
    }

    void tell(std::size_t e) {
        Event& event = events()[e];
        event.struck = false;
        event.own = {};
        if (silenced_[event.witness])
            return;
        const Explained explained = explain(e);
        const KnownDrum& drum = drums_[event.witness];
        const BandEnergies& weights = witnesses_[event.witness].weights;
        BandEnergies rest{};
        double free = 0; // of the drum's profile, the share in bands that nothing explains
        double whole = 0;
        for (std::size_t band = 0; band < bandCount; ++band) {
            const double share = weights[band] * weights[band] * drum.profile[band];
            whole += share;
            if (event.added[band] > explained.most[band]) {
                rest[band] = event.added[band] - explained.middle[band];
                free += share;
            }
        }
        if (free < 0.1 * whole)
            return;
        const double level = std::min(weighted(rest, weights), permitted(event));
        if (level < drum.strong.value - softest)
            return;
        // A soft stroke beside louder ones is believed when most of its sound is its own.
        const double above = event.level - weighted(explained.middle, weights);
        if (level < drum.strong.value - softStroke && above < clearlyAbove && free < ownShare * whole)
            return;
        const double over = weighted(rest, weights) - level;
        for (float& power : rest)
            power = static_cast<float>(power * powerOfDecibels(-over));
        event.own = rest;
        event.struck = true;
    }

    void tellAll() {
        // Leaders first: what follows them is looked at when it is known what they explain, never the other way.
        for (Event& event : events())
            event.struck = false;
        for (const auto& [beaten, e] : order_)
            tell(e);
        // Then the other way round: what only looked like a stroke while those behind it were not known.
        for (auto e = order_.rbegin(); e != order_.rend(); ++e)
            if (events()[e->second].struck)
                tell(e->second);
        summarise();
    }

    /// Whether a drum is struck at all in this take: its strong strokes are about as loud as other drums' in their
    /// mics, louder than what those send here, and first and loudest where they are. The weights are a logistic
    /// regression's, over 800 mics of kits drawn at random (bench/ears.cpp), which it tells apart but for 30.
    /// `led` and `alone`: the shares of its strong strokes that nothing leads, and that nothing else explains.
    bool isHeard(std::size_t w, double loudest, double led, double alone) const {
        const double strong = drums_[w].strong.value;
        double bleed = strong - 30;
        for (std::size_t drum = 0; drum < witnesses_.size(); ++drum)
            if (drum != w && !isOverhead(drum) && !silenced_[drum])
                bleed = std::max(bleed, bleedOf(drum, w));
        // Metal has less power than shells, however it is played.
        const double softer = (witnesses_[w].body > metal ? 0.17 : 0.04) * std::min(loudest - strong, 40.0);
        return 0.07 - softer - 0.14 * std::min(bleed - strong, 15.0) + 4 * led + 0.66 * alone -
                   0.03 * std::min(lacking_[w], 12.0) >
               0;
    }

    void silence() {
        std::vector<Share> led(witnesses_.size()), alone(witnesses_.size());
        for (const auto& [beaten, e] : order_) {
            const Event& event = events()[e];
            if (!event.struck || levelOf(event) < drums_[event.witness].strong.value - learnWithin)
                continue;
            led[event.witness].add(beaten == 0);
            const double explained = weighted(explain(e).middle, witnesses_[event.witness].weights);
            alone[event.witness].add(event.level > explained + farAbove);
        }
        double loudest = -200;
        for (std::size_t w = 0; w < witnesses_.size(); ++w)
            if (!isOverhead(w) && drums_[w].strokes > 0)
                loudest = std::max(loudest, drums_[w].strong.value);
        auto silenced = silenced_;
        for (std::size_t w = 0; w < witnesses_.size(); ++w)
            silenced[w] = !isOverhead(w) &&
                          (drums_[w].strokes == 0 || !isHeard(w, loudest, led[w].value(), alone[w].value()));
        silenced_ = silenced;
    }

    void write(WhoStruck& result) const {
        for (std::size_t w = 0; w < witnesses_.size(); ++w)
            result.told.emplace_back(witnesses_[w].analysis->candidates.size());
        for (std::size_t e = 0; e < moments_.events().size(); ++e) {
            const Event& event = moments_.events()[e];
            const Explained explained = explain(e);
            const BandEnergies& weights = witnesses_[event.witness].weights;
            const double predicted = weighted(explained.middle, weights);
            const KnownDrum& drum = drums_[event.witness];
            const double strong = drum.strokes > 0 ? drum.strong.value : loud_[event.witness];
            Told& told = result.told[event.witness][event.candidate];
            told.by = explained.by;
            told.fit = {std::clamp(event.level - predicted, -60.0, 60.0)};
            if (event.struck) {
                told = {Told::As::stroke, event.witness, {levelOf(event) - strong}, told.fit};
            } else {
                told.as = explained.by == event.witness ? Told::As::unlike : Told::As::bleed;
                told.level = {event.level - strong};
            }
            told.by = witnesses_[told.by].mic;
        }
    }

    std::span<const Witness> witnesses_;
    Moments moments_;
    std::vector<KnownDrum> drums_;
    std::vector<double> lacking_; ///< dB of body that what is taken for its strokes lacks
    std::vector<double> trims_;
    std::vector<double> loud_; ///< the loudest events of each witness, whatever they are
    std::vector<bool> silenced_;
    Paths paths_;
    std::vector<std::pair<std::size_t, std::size_t>> order_; ///< by how many louder or earlier ones there are
};

} // namespace

Decibels lossOf(const DrumPath& path, const KnownDrum& drum) {
    float own = 0, there = 0;
    for (std::size_t band = 0; band < bandCount; ++band) {
        own += drum.profile[band];
        there += path.gain[band] * drum.profile[band];
    }
    return {decibelsOfPower(there) - decibelsOfPower(own)};
}

WhoStruck tellWhoStruck(std::span<const Witness> witnesses, SampleRate rate) {
    return Teller(witnesses, rate).run();
}

} // namespace lampo
