#include "comp/take_measures.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>

namespace lampo {
namespace {

constexpr Decibels strong{-9};          ///< below, a stroke may be a ghost note, which takes are free in
constexpr Decibels shadow{-15};         ///< against the other takes: no stroke but what was heard in its stead
constexpr double outOfPlace = 10;       ///< ms of unsteadiness
constexpr double switchCost = 1.5;      ///< of going from one take to another between two bars
constexpr double sameMoment = 1.0 / 64; ///< of a whole note: lines of two takes that are one place

/// A place in the music that takes can be compared at.
struct PlaceKey {
    int bar;
    long place; ///< in 64ths of the bar's beginning
    Voice voice;
    auto operator<=>(const PlaceKey&) const = default;
};

struct StrokeThere {
    TakeIndex take;
    Decibels level;
};

class Measurer {
public:
    Measurer(const Session& session, const MusicalMap& map) : session_(session), map_(map) {}

    TakeMeasures run(std::span<const std::vector<std::shared_ptr<const LaidTake>>> ownLays) {
        const int lastBar = map_.barAt(SongFrame{0} + (session_.extent() - FrameCount{1}));
        measures_.firstBar = map_.barAt(SongFrame{0});
        measures_.takes.assign(ownLays.size(), std::vector<BarMeasure>(static_cast<std::size_t>(
                                                   std::max(0, lastBar - measures_.firstBar + 1))));
        for (TakeIndex take; take < ownLays.size(); ++take) {
            for (const auto& laid : ownLays[take])
                collect(take, *laid);
            summarise(take);
        }
        compare(ownLays.size());
        return std::move(measures_);
    }

private:
    BarMeasure* barOf(TakeIndex take, int bar) {
        auto& bars = measures_.takes[take];
        const int index = bar - measures_.firstBar;
        return index >= 0 && index < static_cast<int>(bars.size()) ? &bars[static_cast<std::size_t>(index)]
                                                                   : nullptr;
    }

    void collect(TakeIndex take, const LaidTake& laid) {
        for (std::size_t i = 0; i < laid.hits.size(); ++i) {
            const Landing& landing = laid.landings[i];
            const Hit& hit = laid.hits[i];
            if (hit.bare || !laid.cover.contains(landing.meant))
                continue;
            if (!landing.line) {
                if (BarMeasure* bar = barOf(take, map_.barAt(landing.meant)); bar && hit.level >= strong)
                    ++bar->clashes;
                continue;
            }
            const BarBeat place = landing.line->place;
            late_[{take, place.bar}].push_back(
                toMilliseconds(landing.played - landing.line->frame, session_.rate).value);
            const double wholes = (place.beat - 1) / map_.meterOf(place.bar).unit;
            strokes_[{place.bar, std::lround(wholes / sameMoment), hit.voice}].push_back({take, hit.level});
        }
    }

    void summarise(TakeIndex take) {
        for (auto& [key, late] : late_) {
            BarMeasure* bar = key.first == take ? barOf(take, key.second) : nullptr;
            if (!bar)
                continue;
            const auto count = static_cast<double>(late.size());
            double sum = 0, squares = 0, changes = 0;
            for (std::size_t i = 1; i < late.size(); ++i)
                changes += (late[i] - late[i - 1]) * (late[i] - late[i - 1]);
            for (const double each : late) {
                sum += each;
                squares += each * each;
                if (std::abs(each) > std::abs(bar->worst.value))
                    bar->worst = {each};
            }
            bar->strokes = late.size();
            bar->unsteady = {late.size() > 1 ? std::sqrt(changes / (2 * (count - 1))) : 0};
            bar->mean = {sum / count};
            bar->spread = {std::sqrt(std::max(0.0, squares / count - bar->mean.value * bar->mean.value))};
        }
    }

    static double medianLevel(std::vector<StrokeThere> strokes) {
        const auto middle = strokes.begin() + static_cast<std::ptrdiff_t>(strokes.size() / 2);
        std::nth_element(strokes.begin(), middle, strokes.end(),
                         [](const auto& a, const auto& b) { return a.level < b.level; });
        return middle->level.value;
    }

    /// Stroke by stroke against the other takes.
    void compare(std::size_t takes) {
        for (const auto& [place, there] : strokes_) {
            const double usual = medianLevel(there);
            std::vector<bool> plays(takes);
            for (const StrokeThere& stroke : there)
                plays[stroke.take] = plays[stroke.take] || stroke.level.value > usual + shadow.value;
            const auto playing = static_cast<std::size_t>(std::count(plays.begin(), plays.end(), true));
            for (TakeIndex take; take < takes; ++take)
                if (BarMeasure* bar = barOf(take, place.bar); bar && bar->strokes > 0 && usual >= strong.value) {
                    bar->missing += !plays[take] && playing * 2 > takes - 1;
                    bar->extra += plays[take] && playing == 1 && takes > 1;
                }
            if (playing < 2)
                continue;
            for (const StrokeThere& stroke : there) {
                auto& total = uneven_[{stroke.take, place.bar}];
                total.first += (stroke.level.value - usual) * (stroke.level.value - usual);
                ++total.second;
            }
        }
        for (const auto& [key, total] : uneven_)
            if (BarMeasure* bar = barOf(key.first, key.second))
                bar->uneven = {std::sqrt(total.first / total.second)};
    }

    const Session& session_;
    const MusicalMap& map_;
    TakeMeasures measures_;
    std::map<std::pair<TakeIndex, int>, std::vector<double>> late_;
    std::map<PlaceKey, std::vector<StrokeThere>> strokes_;
    std::map<std::pair<TakeIndex, int>, std::pair<double, int>> uneven_; ///< sum of squares, count
};

/// One take for each bar, as passages. `takeOf` gives none where what sounds stays.
template <class TakeOf>
std::vector<Passage> passagesOf(const Session& session, const MusicalMap& map, const TakeOf& takeOf) {
    std::vector<Passage> passages;
    const SongFrame end = SongFrame{0} + session.length();
    for (int bar = map.barAt(SongFrame{0}); map.barStart(bar) < end; ++bar) {
        const Range<SongFrame> range{std::max(map.barStart(bar), SongFrame{0}),
                                     std::min(map.barStart(bar + 1), end)};
        if (range.empty())
            continue;
        if (const auto take = takeOf(bar))
            passages.push_back({range.begin, *take, {}});
        else
            for (const Passage& kept : session.comp.inside(range))
                passages.push_back(kept);
    }
    return passages;
}

} // namespace

bool BarMeasure::spoiled() const {
    return (missing > 0 && (extra + clashes > 0 || unsteady.value > outOfPlace)) || missing > 2;
}

double BarMeasure::cost() const {
    return unsteady.value / 4 + std::abs(mean.value) / 20 + uneven.value / 3 + 6.0 * missing + 3.0 * extra +
           4.0 * clashes;
}

const BarMeasure* TakeMeasures::of(TakeIndex take, int bar) const {
    return take < takes.size() && bar >= firstBar && bar < endBar()
               ? &takes[take][static_cast<std::size_t>(bar - firstBar)]
               : nullptr;
}

BarMeasure TakeMeasures::over(TakeIndex take, int first, int last) const {
    BarMeasure all;
    double late = 0, square = 0, steady = 0, even = 0;
    for (int bar = first; bar <= last; ++bar) {
        const BarMeasure* one = of(take, bar);
        if (!one)
            continue;
        const auto weight = static_cast<double>(one->strokes);
        late += weight * one->mean.value;
        square += weight * (one->mean.value * one->mean.value + one->spread.value * one->spread.value);
        steady += weight * one->unsteady.value * one->unsteady.value;
        even += weight * one->uneven.value * one->uneven.value;
        if (std::abs(one->worst.value) > std::abs(all.worst.value))
            all.worst = one->worst;
        all.strokes += one->strokes;
        all.missing += one->missing;
        all.extra += one->extra + one->clashes;
    }
    if (all.strokes > 0) {
        const auto count = static_cast<double>(all.strokes);
        all.mean = {late / count};
        all.spread = {std::sqrt(std::max(0.0, square / count - all.mean.value * all.mean.value))};
        all.unsteady = {std::sqrt(steady / count)};
        all.uneven = {std::sqrt(even / count)};
    }
    return all;
}

TakeMeasures measureTakes(const Session& session, const MusicalMap& map,
                          std::span<const std::vector<std::shared_ptr<const LaidTake>>> ownLays) {
    return session.empty() ? TakeMeasures{} : Measurer(session, map).run(ownLays);
}

std::vector<Passage> suggestedComp(const Session& session, const MusicalMap& map, const TakeMeasures& measures) {
    const std::size_t takes = measures.takes.size();
    const auto bars = static_cast<std::size_t>(measures.endBar() - measures.firstBar);
    constexpr double never = 1e6; // a bar that is not played
    std::vector<std::vector<TakeIndex>> from(bars, std::vector<TakeIndex>(takes));
    std::vector<double> costs(takes);
    const auto cheapestOf = [](const std::vector<double>& all) {
        return TakeIndex{static_cast<std::size_t>(std::min_element(all.begin(), all.end()) - all.begin())};
    };
    for (std::size_t bar = 0; bar < bars; ++bar) {
        const bool played = std::any_of(measures.takes.begin(), measures.takes.end(),
                                        [&](const auto& take) { return take[bar].strokes > 0; });
        std::vector<double> next(takes);
        const TakeIndex cheapest = cheapestOf(costs);
        for (TakeIndex take; take < takes; ++take) {
            const bool stay = costs[take] <= costs[cheapest] + switchCost;
            from[bar][take] = stay ? take : cheapest;
            const BarMeasure& measure = measures.takes[take][bar];
            next[take] = (stay ? costs[take] : costs[cheapest] + switchCost) + (measure.strokes > 0 ? measure.cost()
                                                                                : played            ? never
                                                                                                    : 0);
        }
        costs = std::move(next);
    }
    std::vector<TakeIndex> best(bars);
    TakeIndex take = cheapestOf(costs);
    for (std::size_t bar = bars; bar-- > 0;) {
        best[bar] = take;
        take = from[bar][take];
    }
    return passagesOf(session, map, [&](int bar) -> std::optional<TakeIndex> {
        const bool known = bar >= measures.firstBar && bar < measures.endBar();
        return known ? std::optional(best[static_cast<std::size_t>(bar - measures.firstBar)]) : std::nullopt;
    });
}

std::vector<Passage> ratedComp(const Session& session, const MusicalMap& map) {
    return passagesOf(session, map, [&](int bar) -> std::optional<TakeIndex> {
        const Passage& now = session.comp.passages[session.comp.at(map.barStart(bar))];
        std::optional<TakeIndex> best;
        int most = 0;
        for (TakeIndex take; take < session.takes.size(); ++take) {
            const int marks = session.marksOf(session.takes[take].letter, bar);
            if (marks > most || (marks == most && marks > 0 && now.take == take)) {
                best = take;
                most = marks;
            }
        }
        return best;
    });
}

} // namespace lampo
