#include "strokes/leader_correlation.h"

#include <algorithm>
#include <cmath>
#include <optional>

namespace lampo {
namespace {

constexpr double asGoodAsSame = 0.3; ///< dB: where all differ by less they tell nothing, and follow

/// Sums over pairs of levels.
struct Sums {
    double n = 0, x = 0, y = 0, xx = 0, xy = 0, yy = 0;

    void add(double ofLeader, double here) {
        n += 1;
        x += ofLeader;
        y += here;
        xx += ofLeader * ofLeader;
        xy += ofLeader * here;
        yy += here * here;
    }
};

/// Those of some leaders, each about its own mean.
class Correlation {
public:
    void add(const Sums& sums) {
        if (sums.n == 0)
            return;
        n_ += sums.n;
        xx_ += sums.xx - sums.x * sums.x / sums.n;
        xy_ += sums.xy - sums.x * sums.y / sums.n;
        yy_ += sums.yy - sums.y * sums.y / sums.n;
    }
    double beyondChance() const {
        if (n_ == 0)
            return 0;
        const double same = n_ * asGoodAsSame * asGoodAsSame;
        const double scale = std::sqrt((std::max(0.0, xx_) + same) * (std::max(0.0, yy_) + same));
        return std::max(0.0, (xy_ + same) / scale - 1.5 / std::sqrt(n_));
    }

private:
    double n_ = 0, xx_ = 0, xy_ = 0, yy_ = 0;
};

/// The loudest event of another close mic that leads this one.
std::optional<std::size_t> leaderOf(const StrokesSoFar& known, std::size_t e) {
    const auto& events = known.moments.events();
    std::optional<std::size_t> leader;
    known.moments.forNear(e, sameMoment, sameMoment, [&](std::size_t o) {
        if (!known.isOverhead(events[o].witness) && known.isCause(events[o], events[e]) &&
            (!leader || events[o].level > events[*leader].level))
            leader = o;
    });
    return leader;
}

} // namespace

std::vector<double> leaderCorrelations(const StrokesSoFar& known) {
    const std::size_t witnesses = known.witnesses.size();
    std::vector<std::vector<Sums>> sums(witnesses, std::vector<Sums>(witnesses)); // by witness and leader
    const auto& events = known.moments.events();
    for (std::size_t e = 0; e < events.size(); ++e)
        if (known.isStrong(events[e]))
            if (const auto leader = leaderOf(known, e))
                sums[events[e].witness][events[*leader].witness].add(events[*leader].level, events[e].level);
    std::vector<double> led(witnesses);
    for (std::size_t w = 0; w < witnesses; ++w) {
        Correlation correlation;
        for (const Sums& ofLeader : sums[w])
            correlation.add(ofLeader);
        led[w] = correlation.beyondChance();
    }
    return led;
}

} // namespace lampo
