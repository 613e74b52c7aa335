#include "advice/kept_elsewhere.h"

#include <algorithm>
#include <cmath>

namespace lampo {
namespace {

constexpr Milliseconds around{30};
constexpr double nothing = -40; ///< dB: nobody hears it

/// Of the first differences: attacks count, and the low tail of a kick before does not.
double energyOf(std::span<const float> sound) {
    double energy = 0;
    for (std::size_t i = 1; i < sound.size(); ++i) {
        const double edge = double{sound[i]} - sound[i - 1];
        energy += edge * edge;
    }
    return energy;
}

/// By how much it rises from the quieter half of what is before the middle: something else may just have ended
/// there.
double riseOf(std::span<const float> sound) {
    const std::size_t middle = sound.size() / 2, quarter = middle / 2;
    const double before =
        2 * std::min(energyOf(sound.first(quarter)), energyOf(sound.subspan(quarter, middle - quarter)));
    return energyOf(sound.subspan(middle)) - before;
}

} // namespace

Expected<std::vector<KeptIn>> keptElsewhere(const Session& session, KitReader& kit, const Patch& patch) {
    std::vector<KeptIn> kept;
    const auto take = session.takeLettered(patch.at.take);
    if (!take)
        return kept;
    const FrameCount half = toFrames(around, session.rate);
    double own = 0;
    std::vector<std::pair<std::string, double>> others;
    for (MicIndex mic; mic < session.mics.size(); ++mic) {
        const auto sound = kit.frames(*take, mic, patch.at.at - half, static_cast<std::size_t>(2 * half.frames));
        if (!sound)
            return tl::unexpected(sound.error());
        const double rise = riseOf(*sound);
        const std::string& stem = session.mics[mic].stem;
        if (std::find(patch.mics.begin(), patch.mics.end(), stem) != patch.mics.end())
            own = std::max(own, rise);
        else if (rise > 0)
            others.emplace_back(stem, rise);
    }
    for (const auto& [stem, rise] : others)
        if (const Decibels level = toDecibels(std::sqrt(rise / std::max(own, 1e-12))); level.value > nothing)
            kept.push_back({stem, level});
    std::sort(kept.begin(), kept.end(), [](const KeptIn& a, const KeptIn& b) { return a.level > b.level; });
    return kept;
}

} // namespace lampo
