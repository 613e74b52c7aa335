#include "advice/kept_elsewhere.h"

#include <algorithm>
#include <cmath>

namespace lampo {
namespace {

constexpr Milliseconds around{30};
constexpr double nothing = -40; ///< dB: nobody hears it

double energyOf(std::span<const float> sound) {
    double energy = 0;
    for (const float frame : sound)
        energy += double{frame} * frame;
    return energy;
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
        const auto middle = static_cast<std::size_t>(half.frames);
        const double rise = energyOf(sound->subspan(middle)) - energyOf(sound->first(middle));
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
