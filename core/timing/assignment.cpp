#include "timing/assignment.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

namespace lampo {
namespace {

// Costs are negative log likelihoods up to a constant; the deviations they assume are common practice, no source.
constexpr double unlikely = 1e12;
constexpr double widestSteps = 1.3;     ///< how far a hit may lie from its line
constexpr double jitterSteps = 0.16;    ///< how much neighbouring deviations differ
constexpr double driftPerSecond = 0.25; ///< how fast the drummer drifts, in steps
constexpr double dearestJump = 14;      ///< after a break anything may follow
constexpr double awayCost = 0.10;       ///< of lying a whole step off, per hit
constexpr double beyondCost = 0.45;     ///< and of each step beyond half a step
constexpr double rideCost = 9;
constexpr std::size_t mostRiders = 7;   ///< in a row

double weightCost(LineWeight weight) {
    constexpr std::array costs{0.0, 0.05, 0.15, 0.25};
    return costs[static_cast<std::size_t>(weight)];
}

double placeCost(double deviation) {
    return awayCost * deviation * deviation + beyondCost * std::max(0.0, std::abs(deviation) - 0.5);
}

struct Option {
    std::size_t line;
    double deviation; ///< in steps, positive is late
    double own;       ///< cost of the hit on this line, whatever its neighbours do
};

class Path {
public:
    Path(std::span<const SongFrame> hits, std::span<const GridLine> lines, SampleRate rate)
        : hits_(hits), lines_(lines), rate_(rate) {
        std::size_t nearest = 0;
        for (const SongFrame hit : hits)
            options_.push_back(optionsFor(hit, nearest));
    }

    std::vector<Assignment> best() {
        const auto forward = sweep(true);
        const auto backward = sweep(false);
        std::vector<Assignment> result(hits_.size());
        const auto [cost, last] = cheapestEnd(forward);
        if (cost >= unlikely)
            return result;
        for (Node node = last; node.hit < hits_.size(); node = from_[node.hit][node.option]) {
            result[node.hit] = {options_[node.hit][node.option].line, confidence(forward, backward, node)};
        }
        return result;
    }

private:
    struct Node {
        std::size_t hit;
        std::size_t option;
    };
    static constexpr Node none{std::numeric_limits<std::size_t>::max(), 0};
    using Costs = std::vector<std::vector<double>>;

    std::vector<Option> optionsFor(SongFrame hit, std::size_t& nearest) const {
        while (nearest + 1 < lines_.size() && lines_[nearest + 1].frame <= hit)
            ++nearest;
        std::vector<Option> options;
        const std::size_t first = nearest > 2 ? nearest - 2 : 0;
        for (std::size_t line = first; line < std::min(lines_.size(), nearest + 4); ++line) {
            const auto step = static_cast<double>(lines_[line].step.frames);
            const double deviation = static_cast<double>((hit - lines_[line].frame).frames) / step;
            if (std::abs(deviation) <= widestSteps)
                options.push_back({line, deviation, placeCost(deviation) + weightCost(lines_[line].weight)});
        }
        return options;
    }

    double change(Node earlier, Node later) const {
        const Option& a = options_[earlier.hit][earlier.option];
        const Option& b = options_[later.hit][later.option];
        if (b.line <= a.line)
            return unlikely;
        const double seconds = toSeconds(hits_[later.hit] - hits_[earlier.hit], rate_).value;
        const double drift = driftPerSecond * seconds;
        const double difference = b.deviation - a.deviation;
        const double cost = difference * difference / (2 * (jitterSteps * jitterSteps + drift * drift));
        return std::min(cost, dearestJump) + rideCost * static_cast<double>(later.hit - earlier.hit - 1);
    }

    /// Cost of the cheapest path from one end up to and including each node.
    Costs sweep(bool forward) {
        Costs costs(hits_.size());
        if (forward)
            from_.resize(hits_.size());
        for (std::size_t i = 0; i < hits_.size(); ++i) {
            const std::size_t hit = forward ? i : hits_.size() - 1 - i;
            costs[hit].assign(options_[hit].size(), unlikely);
            if (forward)
                from_[hit].assign(options_[hit].size(), none);
            for (std::size_t option = 0; option < options_[hit].size(); ++option)
                extend(costs, {hit, option}, forward, i);
        }
        return costs;
    }

    void extend(Costs& costs, Node to, bool forward, std::size_t done) {
        // A path may begin here, with all hits before it riding.
        double best = rideCost * static_cast<double>(done);
        Node bestFrom = none;
        for (std::size_t back = 1; back <= std::min(done, mostRiders + 1); ++back) {
            const std::size_t hit = forward ? to.hit - back : to.hit + back;
            for (std::size_t option = 0; option < options_[hit].size(); ++option) {
                const Node from{hit, option};
                const double cost = costs[hit][option] + (forward ? change(from, to) : change(to, from));
                if (cost < best) {
                    best = cost;
                    bestFrom = from;
                }
            }
        }
        costs[to.hit][to.option] = best + options_[to.hit][to.option].own;
        if (forward)
            from_[to.hit][to.option] = bestFrom;
    }

    std::pair<double, Node> cheapestEnd(const Costs& forward) const {
        std::pair<double, Node> best{unlikely, none};
        for (std::size_t hit = 0; hit < hits_.size(); ++hit)
            for (std::size_t option = 0; option < options_[hit].size(); ++option) {
                const double cost = forward[hit][option] + rideCost * static_cast<double>(hits_.size() - 1 - hit);
                if (cost < best.first)
                    best = {cost, {hit, option}};
            }
        return best;
    }

    double confidence(const Costs& forward, const Costs& backward, Node chosen) const {
        const auto through = [&](std::size_t option) {
            return forward[chosen.hit][option] + backward[chosen.hit][option] - options_[chosen.hit][option].own;
        };
        double next = unlikely;
        for (std::size_t option = 0; option < options_[chosen.hit].size(); ++option)
            if (option != chosen.option)
                next = std::min(next, through(option));
        return std::min(next - through(chosen.option), 100.0);
    }

    std::span<const SongFrame> hits_;
    std::span<const GridLine> lines_;
    SampleRate rate_;
    std::vector<std::vector<Option>> options_;
    std::vector<std::vector<Node>> from_;
};

} // namespace

std::vector<Assignment> assignLines(std::span<const SongFrame> hits, std::span<const GridLine> lines, SampleRate rate) {
    if (hits.empty() || lines.empty())
        return std::vector<Assignment>(hits.size());
    return Path(hits, lines, rate).best();
}

} // namespace lampo
