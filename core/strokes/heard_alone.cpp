#include "strokes/heard_alone.h"

#include "strokes/statistics.h"

#include <array>
#include <cmath>

namespace lampo {
namespace {

constexpr double aboutAsLoud = 5; ///< dB

HeardAlone typicalOf(const std::vector<Event>& events, std::span<const std::size_t> some) {
    std::vector<double> levels;
    for (const std::size_t e : some)
        levels.push_back(events[e].level);
    HeardAlone typical{0, strongOf(std::move(levels)), {}};
    std::array<std::vector<double>, bandCount> bands;
    for (const std::size_t e : some) {
        if (std::abs(events[e].level - typical.strong) > aboutAsLoud)
            continue;
        ++typical.events;
        for (std::size_t band = 0; band < bandCount; ++band)
            bands[band].push_back(events[e].added[band]);
    }
    for (std::size_t band = 0; band < bandCount && typical.events > 0; ++band)
        typical.bands[band] = static_cast<float>(quantile(bands[band], 0.5));
    return typical;
}

} // namespace

std::vector<HeardAlone> heardAlone(const Moments& moments, std::span<const std::size_t> first,
                                   std::size_t witnesses, double apart) {
    const auto& events = moments.events();
    std::vector<std::vector<std::size_t>> alone(witnesses * witnesses);
    std::vector<bool> heard(witnesses);
    for (const std::size_t e : first) {
        std::fill(heard.begin(), heard.end(), false);
        moments.forNear(e, apart, apart, [&](std::size_t o) { heard[events[o].witness] = true; });
        for (std::size_t drum = 0; drum < witnesses; ++drum)
            if (!heard[drum])
                alone[drum * witnesses + events[e].witness].push_back(e);
    }
    std::vector<HeardAlone> typical;
    for (const auto& some : alone)
        typical.push_back(typicalOf(events, some));
    return typical;
}

} // namespace lampo
