#include "strokes/stroke_start.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace lampo {
namespace {

// From the kits in bench/ears.cpp. Times are ms, levels parts of the peak.
constexpr double envelopeReach = 0.4;
constexpr float crossing = 0.1F;      ///< a place that every attack has, −20 dB
constexpr float startLevel = 0.0125F; ///< and where it begins, −38 dB
/// Before the main rise, of many strokes: a deep kick may swell for the second time then.
constexpr double farthestCrossing = 20;
constexpr double farthestStart = 12;   ///< before the crossing
constexpr double quietBefore = 4;      ///< before the crossing, where no attack is yet
constexpr float falling = 0.85F;       ///< by less it does not fall, going back
constexpr float floorAbove = 2.5F;     ///< of what is there before an attack: more is the attack
constexpr double quietAtFloor = 1.5;   ///< before the crossing: a flank dips for less
constexpr float highestTop = 0.4F;     ///< −8 dB: where it crosses what was there before, at the latest
constexpr double shortPlateau = 2;     ///< as loud for longer is another stroke's
constexpr double longPlateau = 8;      ///< but not where there are many strokes: brushes swell, after a first touch
constexpr float plateauEnds = 0.5F;    ///< of its level: a ring that was there before does not fall so, going back
constexpr double longestGap = 3;       ///< from a stick's touch to what follows it
constexpr float leastTouch = 0.05F;    ///< −26 dB
constexpr double maxEarlier = 1;       ///< earlier than in nearly all strokes, it was another stroke's
constexpr double mostHidden = 0.5;     ///< of an attack, under what was there before it
constexpr double hiddenPer10dB = 0.33; ///< or so much for each 10 dB under it, where that is more
constexpr float steepWithin = 3.16F;   ///< 10 dB, over which one sees how steeply it rises
constexpr double beforeAudible = 0.15; ///< kept before the start, which is seen to the sample at best

constexpr double contourBefore = 8; ///< around the main rise
constexpr double contourAfter = 10;
constexpr double contourReach = 8;
constexpr float contourFloor = -35; ///< dB
constexpr double maxUnlike = 8;     ///< dB, in the mean

float peakBehind(const MainRise& attack, double perMs) {
    const auto begin = attack.envelope.begin() + static_cast<std::ptrdiff_t>(attack.at);
    return *std::max_element(
        begin, std::min(attack.envelope.end(), begin + static_cast<std::ptrdiff_t>(samplesIn(10, perMs))));
}

/// Going back from the main rise, the first place below `level` before which it stays so for `quiet`; where there
/// is none, the lowest.
std::size_t crossingBefore(const MainRise& attack, float level, std::size_t farthest, std::size_t quiet = 0) {
    std::size_t lowest = attack.at, loud = attack.at;
    for (std::size_t at = attack.at; at > 0 && attack.at - at < farthest; --at) {
        if (attack.envelope[at] > level)
            loud = at;
        else if (loud - at > quiet)
            return loud - 1;
        if (attack.envelope[at] < attack.envelope[lowest])
            lowest = at;
    }
    return lowest;
}

/// Going back, the last sample above `level`; or the lowest, where it stops falling for longer than `plateau`: what
/// is louder before that is another stroke's.
std::size_t backTo(const Sound& envelope, std::size_t from, float level, std::size_t farthest,
                   std::size_t plateau) {
    std::size_t lowest = from;
    for (std::size_t at = from; at > 0 && from - at < farthest && envelope[at - 1] > level; --at) {
        if (envelope[at - 1] < falling * envelope[lowest])
            lowest = at - 1;
        else if (lowest - (at - 1) > plateau)
            return lowest;
        if (at == 1 || envelope[at - 2] <= level)
            return at - 1;
    }
    return lowest;
}

/// On over a stretch in which nothing sounds, where a touch was heard before it.
std::size_t overGap(const Sound& envelope, std::size_t start, float level, double perMs) {
    const std::size_t first = start - std::min(start, samplesIn(longestGap, perMs));
    const auto begin = envelope.begin() + static_cast<std::ptrdiff_t>(first);
    const auto touch = std::find_if(begin, envelope.begin() + static_cast<std::ptrdiff_t>(start),
                                    [&](float x) { return x > level; });
    return touch == envelope.begin() + static_cast<std::ptrdiff_t>(start) || touch == begin
               ? start
               : static_cast<std::size_t>(touch - envelope.begin());
}

/// Samples of an attack under what was there before it: it is taken to be as steep there as where it leaves that,
/// at `edge`, and to begin at `begin`.
double hiddenBefore(const Sound& envelope, std::size_t start, float edge, float begin, double perMs) {
    if (edge <= begin)
        return 0;
    const auto from = envelope.begin() + static_cast<std::ptrdiff_t>(start);
    const auto risen = std::find_if(from, envelope.end(), [&](float x) { return x >= steepWithin * edge; });
    const auto rise = static_cast<double>(risen - from);
    const double depth = std::log(edge / begin) / std::log(steepWithin); // in steps of 10 dB
    return std::min(std::max(mostHidden, depth * hiddenPer10dB) * perMs, rise * depth);
}

float medianBefore(const Sound& envelope, std::size_t end) {
    std::vector<float> before(envelope.begin(), envelope.begin() + static_cast<std::ptrdiff_t>(end));
    const auto middle = before.begin() + static_cast<std::ptrdiff_t>(before.size() / 2);
    std::nth_element(before.begin(), middle, before.end());
    return *middle;
}

/// The level of what is there before an attack that crosses −20 dB of its peak at `cross`; 0 where it may sound
/// itself all the way back.
float floorBefore(const MainRise& attack, std::size_t cross, double perMs) {
    const std::size_t gap = samplesIn(quietBefore, perMs);
    const std::size_t end =
        cross > 2 * gap ? cross - gap : std::min(attack.notBefore, attack.at - std::min(attack.at, gap));
    return end > 0 ? medianBefore(attack.envelope, end) : 0;
}

/// dB under the peak.
Sound contourOf(const MainRise& attack, double perMs) {
    Sound contour = attack.envelope;
    const float peak = peakBehind(attack, perMs);
    for (float& x : contour)
        x = std::max(contourFloor, 20 * std::log10(x / (peak + 1e-9F) + 1e-6F));
    return contour;
}

} // namespace

Sound envelopeOf(const Sound& sound, double perMs) {
    const std::size_t reach = samplesIn(envelopeReach, perMs);
    Sound out(sound.size());
    for (std::size_t i = 0; i < sound.size(); ++i)
        for (std::size_t j = i > reach ? i - reach : 0; j < std::min(sound.size(), i + reach + 1); ++j)
            out[i] = std::max(out[i], std::abs(sound[j]));
    return out;
}

Sound sharedEnvelopeOf(Sound mean, std::span<const ShiftedEnvelope> envelopes, double share) {
    std::vector<float> values;
    for (std::size_t i = 0; i < mean.size(); ++i) {
        values.clear();
        for (const auto& [envelope, lag] : envelopes)
            if (const auto at = static_cast<std::ptrdiff_t>(i) + lag; at >= 0 && at < std::ssize(envelope))
                values.push_back(envelope[static_cast<std::size_t>(at)]);
        if (values.empty())
            continue;
        const auto at = values.begin() + static_cast<std::ptrdiff_t>(share * static_cast<double>(values.size()));
        std::nth_element(values.begin(), at, values.end());
        mean[i] = std::min(mean[i], *at);
    }
    return mean;
}

std::optional<StrokeStart> startOf(const MainRise& attack, const Sound& sure, double perMs) {
    const Sound& envelope = attack.envelope;
    const std::size_t farthest = samplesIn(farthestStart, perMs);
    const float peak = peakBehind(attack, perMs);
    const std::size_t farthestCross = sure.empty() ? farthest : samplesIn(farthestCrossing, perMs);
    std::size_t cross = crossingBefore(attack, crossing * peak, farthestCross);
    const float aboveFloor = floorAbove * floorBefore(attack, cross, perMs);
    const float top = std::clamp(aboveFloor, crossing * peak, highestTop * peak);
    if (top > crossing * peak) // or else that level is crossed somewhere in what was there before
        cross = crossingBefore(attack, top, farthestCross, samplesIn(quietAtFloor, perMs));
    const float begin = startLevel * peak;
    const float edge = std::clamp(aboveFloor, begin, top);
    std::size_t start = backTo(envelope, cross, edge, farthest, samplesIn(shortPlateau, perMs));
    if (!sure.empty()) {
        const std::size_t back = backTo(sure, cross, edge, farthest, samplesIn(longPlateau, perMs));
        if (back > start + samplesIn(maxEarlier, perMs) && sure[back - 1] <= edge)
            start = back;
        else if (back > 0 && sure[back - 1] <= std::max(edge, plateauEnds * envelope[start]))
            start = std::min(start, overGap(sure, back, std::max(edge, leastTouch * peak), perMs));
    }
    if (cross - start >= farthest - 1)
        return std::nullopt;
    const auto first =
        envelope.begin() + static_cast<std::ptrdiff_t>(start - std::min(start, samplesIn(contourBefore, perMs)));
    const bool silent = std::all_of(first, envelope.begin() + static_cast<std::ptrdiff_t>(start),
                                    [&](float x) { return x <= begin; });
    return StrokeStart{static_cast<double>(start + samplesIn(envelopeReach, perMs)) - beforeAudible * perMs, silent,
                       hiddenBefore(envelope, start, edge, begin, perMs)};
}

std::optional<double> contourLag(const MainRise& known, const MainRise& other, double perMs) {
    const Sound pattern = contourOf(known, perMs), sound = contourOf(other, perMs);
    const auto rise = static_cast<std::ptrdiff_t>(known.at);
    const auto from =
        std::max<std::ptrdiff_t>(0, rise - static_cast<std::ptrdiff_t>(samplesIn(contourBefore, perMs)));
    const auto to = std::min(rise + static_cast<std::ptrdiff_t>(samplesIn(contourAfter, perMs)),
                             static_cast<std::ptrdiff_t>(pattern.size()));
    const auto middle = static_cast<std::ptrdiff_t>(other.at) - rise;
    const auto reach = static_cast<std::ptrdiff_t>(samplesIn(contourReach, perMs));
    double least = std::numeric_limits<double>::infinity();
    std::ptrdiff_t best = 0;
    for (std::ptrdiff_t lag = middle - reach; lag <= middle + reach; ++lag) {
        const auto first = std::max(from, -lag);
        const auto last = std::min(to, static_cast<std::ptrdiff_t>(sound.size()) - lag);
        if (2 * (last - first) <= to - from)
            continue;
        double sum = 0;
        for (auto i = first; i < last; ++i)
            sum += std::abs(pattern[static_cast<std::size_t>(i)] - sound[static_cast<std::size_t>(i + lag)]);
        sum /= static_cast<double>(last - first);
        if (sum < least) {
            least = sum;
            best = lag;
        }
    }
    return least < maxUnlike ? std::optional(static_cast<double>(best)) : std::nullopt;
}

} // namespace lampo
