#include "timing/assignment.h"

#include "base/parallel.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>
#include <limits>

namespace lampo {
namespace {

// Costs are negative log likelihoods up to a constant; the deviations they assume are common practice, no source.
constexpr double unlikely = 1e12;
constexpr double widestSteps = 1.3;     ///< how far a hit may lie from its line
constexpr double jitterSteps = 0.16;    ///< how much neighbouring deviations differ
constexpr double driftPerSecond = 0.25; ///< how fast the drummer drifts, in steps
constexpr double maxJumpCost = 14;      ///< after a break anything may follow
constexpr double awayCost = 0.10;       ///< of lying a whole step off, per hit
constexpr double beyondCost = 0.30;     ///< and of each step beyond half a step
constexpr double wall = 0.95;           ///< steps; nobody plays steadily a whole step off, but jitter adds to drift
constexpr double wallCost = 10;         ///< and of each step beyond the wall
constexpr double rideCost = 9;
constexpr double softRideCost = 5;
constexpr Decibels soft{-10};
constexpr std::size_t maxRiders = 7;  ///< in a row
constexpr std::size_t lookAround = 4; ///< changes on each side by which a hit's surroundings are judged
constexpr double roughness = 2.4;     ///< over the median change is a confidence too; common practice, no source
constexpr std::size_t longRun = 8;    ///< hits that would go to other lines together
constexpr double ofLongRun = 0.5;     ///< what their confidence counts: measured on built drummers

/// Loud strokes are rarer the weaker the place; soft ones (ghost notes) fill the places between.
double weightCost(LineWeight weight, bool isSoft) {
    constexpr std::array loud{0.0, 0.05, 0.15, 0.3}, quiet{0.1, 0.1, 0.05, 0.0};
    return (isSoft ? quiet : loud)[static_cast<std::size_t>(weight)];
}

double placeCost(double deviation) {
    return awayCost * deviation * deviation + beyondCost * std::max(0.0, std::abs(deviation) - 0.5) +
           wallCost * std::max(0.0, std::abs(deviation) - wall);
}

/// A hit on one line. Those of one hit ascend, and need not follow one another where steps change.
struct Option {
    std::size_t line;
    double deviation; ///< in steps, positive is late
    double own;       ///< cost of the hit on this line, whatever its neighbours do
};

/// A hit that the user sent nowhere, between those that were.
struct FreeHit {
    SongFrame at;
    bool isSoft;
    std::size_t fromLine; ///< its line lies in [fromLine, endLine)
    std::size_t endLine;
    double ride() const { return isSoft ? softRideCost : rideCost; } ///< cost of lying between the lines
};

class Path {
public:
    Path(std::span<const FreeHit> hits, std::span<const TargetLine> lines, SampleRate rate)
        : hits_(hits), lines_(lines), rate_(rate) {
        options_.reserve(3 * hits.size());
        std::size_t nearest = 0;
        for (const FreeHit& hit : hits) {
            addOptions(hit, nearest);
            begins_.push_back(options_.size());
            riding_.push_back(riding_.back() + hit.ride());
        }
    }

    std::vector<Assignment> best() {
        Costs forward, backward;
        forEachIndex(2, [&](std::size_t which) { which == 0 ? sweep<true>(forward) : sweep<false>(backward); });
        std::vector<Assignment> result(hits_.size());
        const auto [cost, last] = cheapestEnd(forward);
        if (cost >= unlikely)
            return result;
        std::vector<Node> path;
        for (Node node = last; node.hit < hits_.size(); node = from_[node.option])
            path.push_back(node);
        std::reverse(path.begin(), path.end());
        std::vector<double> sure;
        sure.reserve(path.size());
        for (const Node node : path)
            sure.push_back(confidence(forward, backward, node));
        doubtLongRunsSooner(sure);
        const std::vector<double> changes = changesAlong(path);
        for (std::size_t i = 0; i < path.size(); ++i)
            result[path[i].hit] = {options_[path[i].option].line, std::min(sure[i], steadiness(changes, i))};
        return result;
    }

private:
    struct Node {
        std::uint32_t hit;
        std::uint32_t option; ///< among all options of all hits, which lie one behind the other
    };
    static constexpr Node none{std::numeric_limits<std::uint32_t>::max(), 0};
    using Costs = std::vector<double>; ///< of each option

    static Node nodeOf(std::size_t hit, std::size_t option) {
        return {static_cast<std::uint32_t>(hit), static_cast<std::uint32_t>(option)};
    }

    /// Two lines behind the nearest one before the hit, to three beyond it.
    void addOptions(const FreeHit& hit, std::size_t& nearest) {
        while (nearest + 1 < lines_.size() && lines_[nearest + 1].frame <= hit.at)
            ++nearest;
        const std::size_t first = std::max(nearest > 2 ? nearest - 2 : 0, hit.fromLine);
        for (std::size_t line = first; line < std::min(hit.endLine, nearest + 4); ++line) {
            const double deviation = steps(hit, line);
            if (std::abs(deviation) > widestSteps)
                continue;
            options_.push_back(
                {line, deviation, placeCost(deviation) + weightCost(lines_[line].weight, hit.isSoft)});
        }
    }

    double steps(const FreeHit& hit, std::size_t line) const {
        return ratio(hit.at - lines_[line].frame, lines_[line].step);
    }

    /// Cost of the hits between two that have lines.
    double ridersBetween(std::size_t earlier, std::size_t later) const {
        return riding_[later] - riding_[earlier + 1];
    }

    /// What all changes between two hits have in common.
    struct Step {
        double riders;    ///< cost of the hits between them
        double precision; ///< 1 / (2 · variance) of the difference of their deviations
    };
    Step stepBetween(std::size_t earlier, std::size_t later) const {
        const double drift = driftPerSecond * toSeconds(hits_[later].at - hits_[earlier].at, rate_).value;
        return {ridersBetween(earlier, later), 0.5 / (jitterSteps * jitterSteps + drift * drift)};
    }

    /// Of going from one line to a later one.
    static double change(const Option& earlier, const Option& later, const Step& step) {
        const double difference = later.deviation - earlier.deviation;
        return std::min(difference * difference * step.precision, maxJumpCost) + step.riders;
    }

    /// Cost of the cheapest path from one end up to and including each option.
    template <bool forward>
    void sweep(Costs& costs) {
        costs.resize(options_.size());
        std::vector<double> least(hits_.size(), unlikely); // of each hit's options
        if (forward)
            from_.resize(options_.size());
        for (std::size_t done = 0; done < hits_.size(); ++done) {
            const std::size_t hit = forward ? done : hits_.size() - 1 - done;
            extend<forward>(costs, least, hit, done);
            for (std::size_t option = begins_[hit]; option < begins_[hit + 1]; ++option) {
                costs[option] += options_[option].own;
                least[hit] = std::min(least[hit], costs[option]);
            }
        }
    }

    template <bool forward>
    void extend(Costs& costs, const std::vector<double>& least, std::size_t to, std::size_t done) {
        const std::span<double> best(costs.data() + begins_[to], begins_[to + 1] - begins_[to]);
        // A path may begin here, with all hits before it riding.
        std::fill(best.begin(), best.end(), forward ? riding_[to] : riding_.back() - riding_[to + 1]);
        if (forward)
            std::fill_n(from_.data() + begins_[to], best.size(), none);
        for (std::size_t back = 1; back <= std::min(done, maxRiders + 1); ++back) {
            const std::size_t from = forward ? to - back : to + back;
            const double dearest = best.empty() ? 0 : *std::max_element(best.begin(), best.end());
            if (least[from] + ridersBetween(std::min(from, to), std::max(from, to)) >= dearest)
                continue; // no way from there can be cheaper
            const Step step = stepBetween(std::min(from, to), std::max(from, to));
            for (std::size_t a = begins_[from]; a < begins_[from + 1]; ++a)
                for (std::size_t b = begins_[to]; b < begins_[to + 1]; ++b)
                    relax<forward>(costs, nodeOf(from, a), b, step);
        }
    }

    /// Relaxes one edge: the path to an option leads by another where that is cheaper.
    template <bool forward>
    void relax(Costs& costs, Node from, std::size_t to, const Step& step) {
        const Option& earlier = options_[forward ? from.option : to];
        const Option& later = options_[forward ? to : from.option];
        if (later.line <= earlier.line)
            return;
        const double cost = costs[from.option] + change(earlier, later, step);
        if (cost >= costs[to])
            return;
        costs[to] = cost;
        if constexpr (forward)
            from_[to] = from;
    }

    std::pair<double, Node> cheapestEnd(const Costs& forward) const {
        std::pair<double, Node> best{unlikely, none};
        for (std::size_t hit = 0; hit < hits_.size(); ++hit)
            for (std::size_t option = begins_[hit]; option < begins_[hit + 1]; ++option) {
                const double cost = forward[option] + riding_.back() - riding_[hit + 1];
                if (cost < best.first)
                    best = {cost, nodeOf(hit, option)};
            }
        return best;
    }

    double confidence(const Costs& forward, const Costs& backward, Node chosen) const {
        const auto through = [&](std::size_t option) {
            return forward[option] + backward[option] - options_[option].own;
        };
        double next = unlikely;
        for (std::size_t option = begins_[chosen.hit]; option < begins_[chosen.hit + 1]; ++option)
            if (option != chosen.option)
                next = std::min(next, through(option));
        return std::min(next - through(chosen.option), surest);
    }

    /// Neighbours with the same confidence would all go to the next lines together, where one change of the drift
    /// was taken for another. When that is wrong it is wrong for all of them, and one look settles it.
    static void doubtLongRunsSooner(std::vector<double>& sure) {
        for (std::size_t begin = 0, end = 0; begin < sure.size(); begin = end) {
            for (end = begin + 1; end < sure.size() && std::abs(sure[end] - sure[begin]) < 1e-6;)
                ++end;
            if (end - begin >= longRun && sure[begin] < surest)
                for (std::size_t i = begin; i < end; ++i)
                    sure[i] *= ofLongRun;
        }
    }

    /// Cost of each change from one hit of the path to the next, without those that ride between them.
    std::vector<double> changesAlong(const std::vector<Node>& path) const {
        std::vector<double> changes;
        for (std::size_t i = 1; i < path.size(); ++i) {
            const Node a = path[i - 1], b = path[i];
            const Step step = stepBetween(a.hit, b.hit);
            changes.push_back(change(options_[a.option], options_[b.option], step) - step.riders);
        }
        return changes;
    }

    /// Where most changes around a hit are rougher than a drummer's, the lines are none that he played to (triplets
    /// against sixteenths, say), and whatever is cheapest there is still a guess. A single break is none.
    static double steadiness(const std::vector<double>& changes, std::size_t hit) {
        const std::size_t begin = hit > lookAround ? hit - lookAround : 0;
        const std::size_t end = std::min(hit + lookAround, changes.size());
        if (end < begin + lookAround)
            return surest; // too few to tell
        std::array<double, 2 * lookAround> near{};
        std::copy(changes.data() + begin, changes.data() + end, near.data());
        const auto middle = near.begin() + static_cast<std::ptrdiff_t>((end - begin) / 2);
        std::nth_element(near.begin(), middle, near.begin() + static_cast<std::ptrdiff_t>(end - begin));
        return std::min(roughness / std::max(*middle, 1e-3), surest);
    }

    std::span<const FreeHit> hits_;
    std::span<const TargetLine> lines_;
    SampleRate rate_;
    std::vector<Option> options_;        ///< of all hits
    std::vector<std::size_t> begins_{0}; ///< where those of each hit begin, and their end
    std::vector<double> riding_{0};      ///< cost of all hits before each one riding
    std::vector<Node> from_;             ///< what comes before each option on the cheapest path to it
};

} // namespace

std::vector<Assignment> assignLines(std::span<const HitToAssign> hits, std::span<const TargetLine> lines,
                                    SampleRate rate) {
    std::vector<Assignment> result(hits.size());
    if (hits.empty() || lines.empty())
        return result;
    std::vector<FreeHit> free;
    std::vector<std::size_t> places; // of the free ones among all
    std::size_t from = 0, closed = 0;
    for (std::size_t i = 0; i < hits.size(); ++i) {
        if (!hits[i].sent) {
            free.push_back({hits[i].at, hits[i].level < soft, from, lines.size()});
            places.push_back(i);
        } else if (*hits[i].sent >= from) { // one sent behind what comes after it rides
            result[i] = {hits[i].sent, surest};
            from = *hits[i].sent + 1;
            for (; closed < free.size(); ++closed)
                free[closed].endLine = *hits[i].sent;
        }
    }
    if (free.empty())
        return result;
    const auto best = Path(free, lines, rate).best();
    for (std::size_t i = 0; i < best.size(); ++i)
        result[places[i]] = best[i];
    return result;
}

std::vector<Assignment> nearestLines(std::span<const HitToAssign> hits, std::span<const TargetLine> lines) {
    std::vector<Assignment> result(hits.size());
    for (std::size_t hit = 0; hit < hits.size() && !lines.empty(); ++hit) {
        if (hits[hit].sent) {
            result[hit] = {hits[hit].sent, surest};
            continue;
        }
        const std::size_t nearest = nearestLine(hits[hit].at, lines);
        const double away = ratio(abs(hits[hit].at - lines[nearest].frame), lines[nearest].step);
        result[hit] = {nearest, 10 * std::max(0.0, 1 - 2 * away)};
    }
    return result;
}

} // namespace lampo
