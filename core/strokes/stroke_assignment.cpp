#include "strokes/stroke_assignment.h"

#include "strokes/heard_alone.h"
#include "strokes/plausible_paths.h"
#include "strokes/statistics.h"

#include <algorithm>
#include <utility>

namespace lampo {
namespace {

constexpr double sameMoment = 5;      ///< ms within which one stroke may be what two mics hear
constexpr double leadWorth = 4;       ///< dB that a mic may be softer for each ms that it is earlier
constexpr double maxLead = 2;         ///< ms that count
constexpr double explainsFrom = 4;    ///< ms that bleed may come before its stroke's date
constexpr double overheadFrom = 8;    ///< the same of what overheads tell of, which may stand nearer to another mic
constexpr double explainsTo = 18;     ///< and behind it: reflections, and dates at a stroke's first rustle
constexpr double ringsTo = 45;        ///< and as its sound goes on, softer by
constexpr double fade = 0.1;          ///< dB in each ms more
constexpr double softest = 45;        ///< dB under a strong stroke: less is nothing
constexpr double typicalOverhead = 8; ///< dB that overheads are softer than close mics; common practice, no source
constexpr double softStroke = 14;     ///< dB under a strong one
constexpr double clearlyAbove = 10;   ///< dB above what explains it
constexpr double ownShare = 0.6;      ///< of the drum's profile, in bands that nothing explains
constexpr double farAbove = 8;        ///< dB
constexpr double maxForeign = 3;      ///< dB that an event may exceed what its drum can have of it,
constexpr double foreignBelow = 6;    ///< where that is so far under a strong stroke
constexpr int rounds = 4;

struct Share {
    double of = 0, all = 0;
    void add(bool counts) {
        of += counts ? 1 : 0;
        all += 1;
    }
    double value() const { return of / std::max(1.0, all); }
};

class StrokeAssigner {
public:
    StrokeAssigner(std::span<const Witness> witnesses, SampleRate rate)
        : witnesses_(witnesses), moments_(witnesses, rate), drums_(witnesses.size()),
          bodyDeficit_(witnesses.size()), idle_(witnesses.size()) {}

    StrokeAssignment run() {
        measureLevels();
        rankEvents();
        std::vector<std::size_t> first;
        for (const auto& [causes, e] : order_)
            if (causes == 0)
                first.push_back(e);
        alone_ = heardAlone(moments_, first, witnesses_.size(), sameMoment);
        learnDrums();
        for (int round = 0; round < rounds; ++round) {
            const auto before = std::exchange(idle_, std::vector<bool>(witnesses_.size()));
            decideAll();
            idle_ = before;
            findIdle();
            decideAll();
            learnOverheads();
        }
        decideAll();
        StrokeAssignment result{drums_, paths_, {}};
        write(result);
        return result;
    }

private:
    std::vector<Event>& events() { return moments_.events(); }

    /// The other is louder, or earlier, by so much that it is rather the cause.
    bool isCause(const Event& other, const Event& event) const {
        const double earlier = std::clamp(event.at - other.at, -maxLead, maxLead);
        const double louder = other.level + levels_[other.witness].trim - event.level - levels_[event.witness].trim;
        return louder + leadWorth * earlier > 0;
    }

    /// Overheads are driven hotter than close mics, or less: for comparing they are brought to what is usual.
    void measureLevels() {
        std::vector<std::vector<double>> levels(witnesses_.size());
        for (const Event& event : events())
            levels[event.witness].push_back(event.level);
        double close = -200;
        for (std::size_t w = 0; w < witnesses_.size(); ++w) {
            levels_.push_back({strongOf(levels[w]), 0});
            if (!isOverhead(w))
                close = std::max(close, levels_[w].loudest);
        }
        for (std::size_t w = 0; w < witnesses_.size(); ++w)
            if (isOverhead(w) && close > -200)
                levels_[w].trim = close - typicalOverhead - levels_[w].loudest;
    }

    /// Events that nothing leads come first, overheads last: they tell of what no close mic does.
    void rankEvents() {
        for (std::size_t e = 0; e < events().size(); ++e) {
            const Event& event = events()[e];
            std::size_t causes = 0;
            moments_.forNear(e, sameMoment, sameMoment,
                             [&](std::size_t o) { causes += isCause(events()[o], event) ? 1 : 0; });
            order_.emplace_back(isOverhead(event.witness) ? events().size() : causes, e);
        }
        std::sort(order_.begin(), order_.end());
    }

    void summarise() {
        std::vector<std::vector<double>> levels(witnesses_.size());
        for (const Event& event : events())
            if (event.struck)
                levels[event.witness].push_back(levelOf(event));
        for (std::size_t w = 0; w < witnesses_.size(); ++w) {
            drums_[w].isWitness = true;
            drums_[w].strokes = levels[w].size();
            drums_[w].strong = {strongOf(std::move(levels[w]))};
            drums_[w].played = isOverhead(w) || (drums_[w].strokes > 0 && !idle_[w]);
        }
        std::vector<std::array<std::vector<double>, bandCount>> bands(witnesses_.size());
        for (const Event& event : events())
            if (isStrong(event))
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
            bodyDeficit_[w] = std::max(0.0, witnesses_[w].body.value - body);
            profile[2] *= static_cast<float>(powerOfDecibels(-bodyDeficit_[w]));
            profile[3] *= static_cast<float>(powerOfDecibels(-bodyDeficit_[w]));
        }
    }

    double levelOf(const Event& event) const {
        return weightedDecibels(event.own, witnesses_[event.witness].weights);
    }
    bool isStrong(const Event& event) const {
        return event.struck && levelOf(event) >= drums_[event.witness].strong.value - strongWithin;
    }

    /// At first, what is loud in its mic is taken for its drum's.
    void learnDrums() {
        for (Event& event : events()) {
            event.struck = event.level >= levels_[event.witness].loudest - strongWithin;
            event.own = event.struck ? event.added : BandEnergies{};
        }
        summarise();
        paths_ = Paths(witnesses_.size());
        learn(Witness::Place::drum, {});
    }

    /// What overheads tell of may stand nearer to another mic, and is mixed with all else that they hear.
    void learnOverheads() { learn(Witness::Place::overhead, {6, 0.4}); }

    void learn(Witness::Place place, const Paths::Learning& how) {
        for (std::size_t w = 0; w < witnesses_.size(); ++w) {
            if (witnesses_[w].place != place)
                continue;
            std::vector<std::size_t> strokes;
            for (std::size_t e = 0; e < events().size(); ++e)
                if (events()[e].witness == w && isStrong(events()[e]))
                    strokes.push_back(e);
            paths_.learn(moments_, strokes, how, [&](const Event& other, const Event& stroke) {
                return place == Witness::Place::drum && isCause(other, stroke);
            });
        }
        keepPlausible(paths_, witnesses_, drums_, levels_, alone_);
    }

    bool isOverhead(std::size_t witness) const { return witnesses_[witness].place == Witness::Place::overhead; }

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
        moments_.forNear(e, ringsTo, overheadFrom, [&](std::size_t o) {
            const Event& stroke = moments_.events()[o];
            const bool byOverhead = isOverhead(stroke.witness);
            if (!stroke.struck || stroke.at - event.at > (byOverhead ? overheadFrom : explainsFrom))
                return;
            if (byOverhead && !isOverhead(event.witness) && isCause(event, stroke))
                return; // it is rather this drum that the overhead hears
            const DrumPath& path = paths_.at(stroke.witness, event.witness);
            const float whole = weightedPower(stroke.own, witnesses_[stroke.witness].weights);
            BandEnergies here{};
            const double late = event.at - stroke.at - explainsTo;
            const auto faded = static_cast<float>(late > 0 ? powerOfDecibels(-fade * late) : 1);
            for (std::size_t band = 0; band < bandCount; ++band) {
                here[band] = faded * std::max(path.gain[band] * stroke.own[band], path.shape[band] * whole);
                (byOverhead ? fromAbove.middle : explained.middle)[band] += here[band];
                (byOverhead ? fromAbove.most : explained.most)[band] += path.margin[band] * here[band];
            }
            const double power = weightedPower(here, witnesses_[event.witness].weights);
            if (power > loudest) {
                loudest = power;
                explained.by = stroke.witness;
            }
        });
        const double over = isOverhead(event.witness)
                                ? 0
                                : weightedDecibels(fromAbove.most, witnesses_[event.witness].weights) -
                                      (levels_[event.witness].loudest - overheadLoss);
        const auto kept = static_cast<float>(powerOfDecibels(-std::max(0.0, over)));
        for (std::size_t band = 0; band < bandCount; ++band) {
            explained.middle[band] += kept * fromAbove.middle[band];
            explained.most[band] += kept * fromAbove.most[band];
        }
        return explained;
    }

    /// As loud as its drum may have been, by what each band permits: dB in the weighted bands. One band may lack.
    double permitted(const Event& event) const {
        const DrumModel& drum = drums_[event.witness];
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

    void decide(std::size_t e) {
        Event& event = events()[e];
        event.struck = false;
        event.own = {};
        if (idle_[event.witness])
            return;
        const Explained explained = explain(e);
        const DrumModel& drum = drums_[event.witness];
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
        const double level = std::min(weightedDecibels(rest, weights), permitted(event));
        if (level < drum.strong.value - softest)
            return;
        // A soft stroke beside louder ones is believed when most of its sound is its own.
        const double above = event.level - weightedDecibels(explained.middle, weights);
        if (level < drum.strong.value - softStroke && above < clearlyAbove && free < ownShare * whole)
            return;
        const double over = weightedDecibels(rest, weights) - level;
        if (over > maxForeign && level < drum.strong.value - foreignBelow)
            return; // most of it is neither its drum's nor explained: of something that has no mic
        for (float& power : rest)
            power = static_cast<float>(power * powerOfDecibels(-over));
        event.own = rest;
        event.struck = true;
    }

    void decideAll() {
        // Leaders first: what follows them is looked at when it is known what they explain, never the other way.
        for (Event& event : events())
            event.struck = false;
        for (const auto& [beaten, e] : order_)
            decide(e);
        // Then the other way round: what only looked like a stroke while those behind it were not known.
        for (auto e = order_.rbegin(); e != order_.rend(); ++e)
            if (events()[e->second].struck)
                decide(e->second);
        summarise();
    }

    /// Whether a drum is struck at all in this take: its strong strokes are about as loud as other drums' in their
    /// mics, louder than what those send here, and first and loudest where they are. The weights are a logistic
    /// regression's, over 800 mics of kits drawn at random (bench/ears.cpp), which it tells apart but for 30.
    /// `led` and `alone`: the shares of its strong strokes that nothing leads, and that nothing else explains.
    bool isPlayed(std::size_t w, double loudest, double led, double alone) const {
        const double strong = drums_[w].strong.value;
        double bleed = strong - 30;
        for (std::size_t drum = 0; drum < witnesses_.size(); ++drum)
            if (drum != w && !isOverhead(drum) && !idle_[drum])
                bleed = std::max(bleed, bleedOf(paths_.at(drum, w), drums_[drum], witnesses_[w].weights).value);
        // Metal has less power than shells, however it is played.
        const double softer = (witnesses_[w].body > noBody ? 0.17 : 0.04) * std::min(loudest - strong, 40.0);
        return 0.07 - softer - 0.14 * std::min(bleed - strong, 15.0) + 4 * led + 0.66 * alone -
                   0.03 * std::min(bodyDeficit_[w], 12.0) >
               0;
    }

    void findIdle() {
        std::vector<Share> led(witnesses_.size()), alone(witnesses_.size());
        for (const auto& [beaten, e] : order_) {
            const Event& event = events()[e];
            if (!isStrong(event))
                continue;
            led[event.witness].add(beaten == 0);
            const double explained = weightedDecibels(explain(e).middle, witnesses_[event.witness].weights);
            alone[event.witness].add(event.level > explained + farAbove);
        }
        double loudest = -200;
        for (std::size_t w = 0; w < witnesses_.size(); ++w)
            if (!isOverhead(w) && drums_[w].strokes > 0)
                loudest = std::max(loudest, drums_[w].strong.value);
        auto idle = idle_; // a drum is judged by what the others were before
        for (std::size_t w = 0; w < witnesses_.size(); ++w)
            idle[w] = !isOverhead(w) &&
                      (drums_[w].strokes == 0 || !isPlayed(w, loudest, led[w].value(), alone[w].value()));
        idle_ = idle;
    }

    void write(StrokeAssignment& result) const {
        for (std::size_t w = 0; w < witnesses_.size(); ++w)
            result.verdicts.emplace_back(witnesses_[w].analysis->candidates.size());
        for (std::size_t e = 0; e < moments_.events().size(); ++e) {
            const Event& event = moments_.events()[e];
            const Explained explained = explain(e);
            const BandEnergies& weights = witnesses_[event.witness].weights;
            const double predicted = weightedDecibels(explained.middle, weights);
            const DrumModel& drum = drums_[event.witness];
            const double strong = drum.strokes > 0 ? drum.strong.value : levels_[event.witness].loudest;
            StrokeVerdict& verdict = result.verdicts[event.witness][event.candidate];
            verdict.explainedBy = witnesses_[event.struck ? event.witness : explained.by].mic;
            verdict.aboveBleed = {std::clamp(event.level - predicted, -60.0, 60.0)};
            if (event.struck) {
                verdict.level = {levelOf(event) - strong};
            } else {
                verdict.kind =
                    explained.by == event.witness ? StrokeVerdict::Kind::unlike : StrokeVerdict::Kind::bleed;
                verdict.level = {event.level - strong};
            }
        }
    }

    std::span<const Witness> witnesses_;
    Moments moments_;
    std::vector<DrumModel> drums_;
    std::vector<double> bodyDeficit_; ///< dB of body that what is taken for its strokes lacks
    std::vector<WitnessLevel> levels_;
    std::vector<HeardAlone> alone_;
    std::vector<bool> idle_;
    Paths paths_;
    std::vector<std::pair<std::size_t, std::size_t>> order_; ///< by how many louder or earlier ones there are
};

} // namespace

StrokeAssignment assignStrokes(std::span<const Witness> witnesses, SampleRate rate) {
    return StrokeAssigner(witnesses, rate).run();
}

} // namespace lampo
