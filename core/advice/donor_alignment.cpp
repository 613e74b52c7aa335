#include "advice/donor_alignment.h"

#include <algorithm>
#include <cmath>

namespace lampo {
namespace {

constexpr Milliseconds farthest{2};
constexpr Milliseconds beforeAttack{2};
constexpr Milliseconds behindAttack{10};
constexpr double alike = 0.6; ///< less, and the two are not the same sound

/// The first differences, in which attacks count more than what rings.
std::vector<double> edgesOf(std::span<const float> sound) {
    std::vector<double> edges;
    for (std::size_t i = 1; i < sound.size(); ++i)
        edges.push_back(static_cast<double>(sound[i]) - sound[i - 1]);
    return edges;
}

} // namespace

Expected<FrameCount> alignedLater(const Session& session, KitReader& kit, const Patch& replacement) {
    const auto take = session.takeLettered(replacement.at.take);
    const auto from = replacement.from ? session.takeLettered(replacement.from->take) : std::nullopt;
    if (!take || !from)
        return FrameCount{};
    const FrameCount reach = toFrames(farthest, session.rate), before = toFrames(beforeAttack, session.rate);
    const auto count = static_cast<std::size_t>((before + toFrames(behindAttack, session.rate)).frames);
    const auto lags = static_cast<std::size_t>(2 * reach.frames + 1);
    std::vector<double> sums(lags, 0);
    std::size_t mics = 0;
    for (const std::string& stem : replacement.mics) {
        const auto mic = session.micNamed(stem);
        if (!mic)
            continue;
        const auto stroke = kit.frames(*take, *mic, replacement.at.at - before, count);
        if (!stroke)
            return tl::unexpected(stroke.error());
        const std::vector<double> wanted = edgesOf(*stroke);
        const auto donor = kit.frames(*from, *mic, replacement.from->at - before - reach, count + lags - 1);
        if (!donor)
            return tl::unexpected(donor.error());
        const std::vector<double> offered = edgesOf(*donor);
        double power = 0;
        for (const double edge : wanted)
            power += edge * edge;
        for (std::size_t lag = 0; lag < lags; ++lag) {
            double product = 0, other = 0;
            for (std::size_t i = 0; i < wanted.size(); ++i) {
                product += wanted[i] * offered[i + lag];
                other += offered[i + lag] * offered[i + lag];
            }
            sums[lag] += power > 0 && other > 0 ? product / std::sqrt(power * other) : 0;
        }
        ++mics;
    }
    const auto best = std::max_element(sums.begin(), sums.end());
    if (mics == 0 || *best < alike * static_cast<double>(mics))
        return FrameCount{};
    // A donor that lies `lag` frames further into what was read has to sound so much earlier.
    return reach - FrameCount{best - sums.begin()};
}

} // namespace lampo
