#include "pulse/beat_tracker.h"

#include <algorithm>
#include <cmath>

namespace lampo {
namespace {

constexpr double perSecond = 100;    // places
constexpr double lengthStep = 0.015; // of the logarithm of a beat's length
constexpr int lengths = 45;          // 0.72 to 1.39 times the expected length
constexpr int widestChange = 4;      // from one beat's length to the next, in steps
constexpr double changeCost = 0.12;  // of a change by one step, squared
constexpr double blur = 0.02;        // seconds: how exactly hits are on the beat
constexpr double catches = 0.08;     // of a beat: hits this near tell where it is

class Tracker {
public:
    Tracker(std::span<const PulseHit> hits, SampleRate rate, Seconds beat)
        : hits_(hits), rate_(rate), begin_(seconds(hits.front())) {
        const double span = seconds(hits.back()) - begin_;
        strength_.assign(static_cast<std::size_t>(span * perSecond) + 2, 0.0);
        for (const PulseHit& hit : hits)
            mark(hit);
        for (int i = 0; i < lengths; ++i)
            places_.push_back(std::max(1, static_cast<int>(std::lround(
                                              beat.value * std::exp(lengthStep * (i - lengths / 2)) * perSecond))));
    }

    std::vector<double> run() {
        sweep();
        std::vector<double> beats;
        for (auto node = best(); node.place >= 0; node = before(node))
            beats.push_back(begin_ + node.place / perSecond);
        std::reverse(beats.begin(), beats.end());
        return settled(std::move(beats));
    }

private:
    struct Node {
        int place;
        int length;
    };

    double seconds(const PulseHit& hit) const { return static_cast<double>(hit.at.frame) / rate_.hz; }

    void mark(const PulseHit& hit) {
        const double at = (seconds(hit) - begin_) * perSecond;
        for (int place = static_cast<int>(at) - 6; place <= static_cast<int>(at) + 7; ++place)
            if (0 <= place && place < static_cast<int>(strength_.size())) {
                const double away = (place - at) / perSecond / blur;
                strength_[static_cast<std::size_t>(place)] += weightOf(hit) * std::exp(-0.5 * away * away);
            }
    }

    double& sum(int place, int length) {
        return sums_[static_cast<std::size_t>(place) * lengths + static_cast<std::size_t>(length)];
    }

    void sweep() {
        sums_.resize(strength_.size() * lengths);
        from_.assign(strength_.size() * lengths, -1);
        for (int place = 0; place < static_cast<int>(strength_.size()); ++place)
            for (int length = 0; length < lengths; ++length) {
                const int earlier = place - places_[static_cast<std::size_t>(length)];
                double most = 0; // a path may begin here
                if (earlier >= 0)
                    most = reach(earlier, length, from_[index(place, length)]);
                sum(place, length) = most + strength_[static_cast<std::size_t>(place)];
            }
    }

    /// The best sum that a beat of this length can follow.
    double reach(int earlier, int length, signed char& from) {
        double most = -1e12;
        for (int was = std::max(0, length - widestChange); was <= std::min(lengths - 1, length + widestChange);
             ++was) {
            const double now = sum(earlier, was) - changeCost * (was - length) * (was - length);
            if (now > most) {
                most = now;
                from = static_cast<signed char>(was);
            }
        }
        return most;
    }

    static std::size_t index(int place, int length) {
        return static_cast<std::size_t>(place) * lengths + static_cast<std::size_t>(length);
    }

    /// The best end within the last beat of the song.
    Node best() {
        Node found{-1, 0};
        double most = -1;
        const int last = static_cast<int>(strength_.size()) - 1;
        for (int place = std::max(0, last - places_.back()); place <= last; ++place)
            for (int length = 0; length < lengths; ++length)
                if (sum(place, length) > most) {
                    most = sum(place, length);
                    found = {place, length};
                }
        return found;
    }

    Node before(Node node) const {
        const signed char was = from_[index(node.place, node.length)];
        return was < 0 ? Node{-1, 0} : Node{node.place - places_[static_cast<std::size_t>(node.length)], was};
    }

    /// Each beat at the weighted mean of the hits around it; where there are none, between its neighbours.
    std::vector<double> settled(std::vector<double> beats) const {
        std::vector<bool> heard(beats.size(), false);
        for (std::size_t i = 0; i < beats.size(); ++i) {
            const double length = i + 1 < beats.size() ? beats[i + 1] - beats[i]
                                  : i > 0              ? beats[i] - beats[i - 1]
                                                       : 1;
            const double near = catches * length;
            double weights = 0, sum = 0;
            for (const PulseHit& hit : hits_)
                if (std::abs(seconds(hit) - beats[i]) <= near) {
                    weights += weightOf(hit);
                    sum += weightOf(hit) * seconds(hit);
                }
            if (weights > 0) {
                beats[i] = sum / weights;
                heard[i] = true;
            }
        }
        for (std::size_t i = 0; i < beats.size();) {
            std::size_t end = i;
            while (end < beats.size() && !heard[end])
                ++end;
            for (std::size_t at = i; at < end && i > 0 && end < beats.size(); ++at)
                beats[at] = beats[i - 1] + (beats[end] - beats[i - 1]) * static_cast<double>(at - i + 1) /
                                               static_cast<double>(end - i + 1);
            i = end + 1;
        }
        return beats;
    }

    std::span<const PulseHit> hits_;
    SampleRate rate_;
    double begin_;
    std::vector<double> strength_; ///< of each place
    std::vector<int> places_;      ///< of each length
    std::vector<double> sums_;
    std::vector<signed char> from_; ///< the length of the beat before, −1 at the begin
};

} // namespace

std::vector<double> trackBeats(std::span<const PulseHit> hits, SampleRate rate, Seconds beat) {
    if (hits.size() < 2)
        return {};
    return Tracker(hits, rate, beat).run();
}

} // namespace lampo
