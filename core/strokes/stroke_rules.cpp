#include "strokes/stroke_rules.h"

#include "strokes/heard_alone.h"
#include "strokes/leader_correlation.h"
#include "strokes/statistics.h"

#include <algorithm>
#include <utility>

namespace lampo {
namespace {

constexpr double typicalOverhead = 8; ///< dB that overheads are softer than close mics; common practice, no source
constexpr double softStroke = 14;     ///< dB under a strong one
constexpr double clearlyAbove = 10;   ///< dB above what explains it
constexpr double leastFree = 0.1;     ///< of the drum's profile, in bands that nothing explains whole
constexpr double ownShare = 0.6;      ///< of the drum's profile, in bands that nothing explains
constexpr double farAbove = 8;        ///< dB
constexpr double maxForeign = 3;      ///< dB that an event may exceed what its drum can have of it,
constexpr double foreignBelow = 6;    ///< where that is so far under a strong stroke
constexpr double rareWithin = 16;     ///< dB under the loudest drum: what is rarely struck is no softer
constexpr double rareShare = 0.2;     ///< share of what its mic hears as loud, or louder
constexpr double heardWithin = 15;    ///< ms in which a stroke is heard all over the kit
constexpr int rounds = 4;

struct Share {
    double of = 0, all = 0;
    void add(bool counts) {
        of += counts ? 1 : 0;
        all += 1;
    }
    double value() const { return of / std::max(1.0, all); }
};

class RuledStrokes {
public:
    RuledStrokes(std::span<const Witness> witnesses, SampleRate rate)
        : known_{witnesses,
                 Moments(witnesses, rate),
                 std::vector<DrumModel>(witnesses.size()),
                 std::vector<double>(witnesses.size()),
                 {},
                 {},
                 std::vector<bool>(witnesses.size())} {}

    StrokesSoFar found() {
        measureLevels();
        rankEvents();
        std::vector<std::size_t> first;
        for (const auto& [causes, e] : order_)
            if (causes == 0)
                first.push_back(e);
        alone_ = heardAlone(known_.moments, first, known_.witnesses.size(), sameMoment);
        learnDrums();
        for (int round = 0; round < rounds; ++round) {
            const auto before = std::exchange(known_.idle, std::vector<bool>(known_.witnesses.size()));
            decideAll();
            known_.idle = before;
            findIdle();
            decideAll();
            learnOverheads();
        }
        decideAll();
        findRareStrokes();
        return std::move(known_);
    }

private:
    std::vector<Event>& events() { return known_.moments.events(); }

    /// Overheads are driven hotter than close mics, or less: for comparing they are brought to what is usual.
    void measureLevels() {
        std::vector<std::vector<double>> levels(known_.witnesses.size());
        for (const Event& event : events())
            levels[event.witness].push_back(event.level);
        double close = -200;
        for (std::size_t w = 0; w < known_.witnesses.size(); ++w) {
            known_.levels.push_back({strongOf(levels[w]), 0});
            if (!known_.isOverhead(w))
                close = std::max(close, known_.levels[w].loudest);
        }
        for (std::size_t w = 0; w < known_.witnesses.size(); ++w)
            if (known_.isOverhead(w) && close > -200)
                known_.levels[w].trim = close - typicalOverhead - known_.levels[w].loudest;
    }

    /// Events that nothing leads come first, overheads last: they tell of what no close mic does.
    void rankEvents() {
        for (std::size_t e = 0; e < events().size(); ++e) {
            const Event& event = events()[e];
            std::size_t causes = 0;
            known_.moments.forNear(e, sameMoment, sameMoment,
                                   [&](std::size_t o) { causes += known_.isCause(events()[o], event) ? 1 : 0; });
            order_.emplace_back(known_.isOverhead(event.witness) ? events().size() : causes, e);
        }
        std::sort(order_.begin(), order_.end());
    }

    /// At first, what is loud in its mic is taken for its drum's.
    void learnDrums() {
        for (Event& event : events()) {
            event.struck = event.level >= known_.levels[event.witness].loudest - strongWithin;
            event.own = event.struck ? event.added : BandEnergies{};
        }
        measureDrums(known_);
        known_.paths = Paths(known_.witnesses.size());
        learn(Witness::Place::drum, {});
    }

    /// What overheads tell of may stand nearer to another mic, and is mixed with all else that they hear.
    void learnOverheads() { learn(Witness::Place::overhead, {6, 0.4}); }

    void learn(Witness::Place place, const Paths::Learning& how) {
        for (std::size_t w = 0; w < known_.witnesses.size(); ++w) {
            if (known_.witnesses[w].place != place)
                continue;
            std::vector<std::size_t> strokes;
            for (std::size_t e = 0; e < events().size(); ++e)
                if (events()[e].witness == w && known_.isStrong(events()[e]))
                    strokes.push_back(e);
            known_.paths.learn(known_.moments, strokes, how, [&](const Event& other, const Event& stroke) {
                return place == Witness::Place::drum && known_.isCause(other, stroke);
            });
        }
        keepPlausible(known_.paths, known_.witnesses, known_.drums, known_.levels, alone_);
    }

    void decide(std::size_t e) {
        Event& event = events()[e];
        event.struck = false;
        event.own = {};
        if (known_.idle[event.witness])
            return;
        const Remainder left = remainderOf(known_, e, explain(known_, e));
        const double strong = known_.drums[event.witness].strong.value;
        if (left.free < leastFree || left.level < strong - softestStroke)
            return;
        // A soft stroke beside louder ones is believed when most of its sound is its own.
        if (left.level < strong - softStroke && left.above < clearlyAbove && left.free < ownShare)
            return;
        if (left.foreign > maxForeign && left.level < strong - foreignBelow)
            return; // most of it is neither its drum's nor explained: of something that has no mic
        event.own = left.rest;
        for (float& power : event.own)
            power = static_cast<float>(power * powerOfDecibels(-left.foreign));
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
        measureDrums(known_);
    }

    /// Whether a drum is struck at all in this take: its strong strokes are about as loud as other drums' in their
    /// mics, louder than what those send here, and first and loudest where they are. The weights are a logistic
    /// regression's, over 800 mics of kits drawn at random (bench/ears.cpp), which it tells apart but for 30.
    /// The drum's prior log odds are added to them. `led` and `alone`: the shares of its strong strokes that
    /// nothing leads, and that nothing else explains. Where something does, strokes that are each as loud as that
    /// makes them are its bleed; `leaderCorrelation`: how surely they are (leader_correlation.h). Its weight was
    /// chosen on 438 mics of toms, 276 of them silent. To lose kick or snare is dearer: there it does not count.
    bool isPlayed(std::size_t w, double loudest, double led, double alone, double leaderCorrelation) const {
        const double strong = known_.drums[w].strong.value;
        double bleed = strong - 30;
        for (std::size_t drum = 0; drum < known_.witnesses.size(); ++drum)
            if (drum != w && !known_.isOverhead(drum) && !known_.idle[drum])
                bleed = std::max(
                    bleed,
                    bleedOf(known_.paths.at(drum, w), known_.drums[drum], known_.witnesses[w].weights).value);
        // Metal has less power than shells, however it is played.
        const double softer = (known_.witnesses[w].body > noBody ? 0.17 : 0.04) * std::min(loudest - strong, 40.0);
        const double bleedLike = known_.witnesses[w].isExpected() ? 0 : 7.5 * (1 - led) * leaderCorrelation;
        return 0.07 + known_.witnesses[w].priorLogOdds - softer - 0.14 * std::min(bleed - strong, 15.0) + 4 * led +
                   0.66 * alone - 0.03 * std::min(known_.bodyDeficit[w], 12.0) - bleedLike >
               0;
    }

    void findIdle() {
        std::vector<Share> led(known_.witnesses.size()), alone(known_.witnesses.size());
        for (const auto& [beaten, e] : order_) {
            const Event& event = events()[e];
            if (!known_.isStrong(event))
                continue;
            led[event.witness].add(beaten == 0);
            const double explained =
                weightedDecibels(explain(known_, e).middle, known_.witnesses[event.witness].weights);
            alone[event.witness].add(event.level > explained + farAbove);
        }
        const double loudest = loudestDrum();
        const auto leaderCorrelation = leaderCorrelations(known_);
        auto idle = known_.idle; // a drum is judged by what the others were before
        for (std::size_t w = 0; w < known_.witnesses.size(); ++w)
            idle[w] = !known_.isOverhead(w) &&
                      (known_.drums[w].strokes == 0 ||
                       !isPlayed(w, loudest, led[w].value(), alone[w].value(), leaderCorrelation[w]));
        known_.idle = idle;
    }

    double loudestDrum() const {
        double loudest = -200;
        for (std::size_t w = 0; w < known_.witnesses.size(); ++w)
            if (!known_.isOverhead(w) && known_.drums[w].strokes > 0)
                loudest = std::max(loudest, known_.drums[w].strong.value);
        return loudest;
    }

    bool isHeardElsewhere(std::size_t e) const {
        bool heard = false;
        known_.moments.forNear(e, sameMoment, heardWithin, [&](std::size_t o) {
            heard |= !known_.isOverhead(known_.moments.events()[o].witness);
        });
        return heard;
    }

    /// Of the mics of idle drums, what nothing leads, far above what explains the rest there, and heard elsewhere
    /// as well.
    std::vector<std::vector<std::size_t>> loneEvents() {
        std::vector<std::vector<std::size_t>> lone(known_.witnesses.size());
        for (const auto& [causes, e] : order_) {
            const Event& event = events()[e];
            const Witness& witness = known_.witnesses[event.witness];
            if (causes == 0 && known_.idle[event.witness] && witness.body > noBody && isHeardElsewhere(e) &&
                event.level > weightedDecibels(explain(known_, e).middle, witness.weights) + farAbove)
                lone[event.witness].push_back(e);
        }
        return lone;
    }

    /// A drum whose mic hears the others nearly all of the time may be struck now and then, about as loud as
    /// others. Where that seems so more often, it is rather what has no mic.
    void findRareStrokes() {
        const double loudest = loudestDrum();
        auto lone = loneEvents();
        for (std::size_t w = 0; w < lone.size(); ++w) {
            std::vector<double> levels;
            for (const std::size_t e : lone[w])
                levels.push_back(events()[e].level);
            const double strong = strongOf(std::move(levels));
            std::erase_if(lone[w], [&](std::size_t e) { return events()[e].level < strong - strongWithin; });
            const auto asLoud = std::count_if(events().begin(), events().end(), [&](const Event& event) {
                return event.witness == w && event.level >= strong - strongWithin;
            });
            if (strong < loudest - rareWithin ||
                static_cast<double>(lone[w].size()) > rareShare * static_cast<double>(asLoud))
                continue;
            for (const std::size_t e : lone[w]) {
                events()[e].struck = true;
                events()[e].own = events()[e].added;
            }
        }
        measureDrums(known_);
    }

    StrokesSoFar known_;
    std::vector<HeardAlone> alone_;
    std::vector<std::pair<std::size_t, std::size_t>> order_; ///< by how many louder or earlier ones there are
};

} // namespace

StrokesSoFar strokesByRules(std::span<const Witness> witnesses, SampleRate rate) {
    return RuledStrokes(witnesses, rate).found();
}

} // namespace lampo
