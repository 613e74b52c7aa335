#pragma once

#include "base/position.h"
#include "base/units.h"

#include <optional>
#include <span>
#include <vector>

namespace lampo {

/// How a recording of one stroke fits real ones.
struct Fit {
    std::int64_t at = 0;   ///< frames from the begin of the real sound to where the recording begins
    bool inverted = false; ///< in polarity
    double likeness = 0;   ///< 0 to 1: of the cross-correlation where it fits
};

/// A recording of one stroke as it is compared with real ones.
struct OneShot {
    std::vector<float> sound; ///< for 25 ms from where its attack begins; silence before
    std::vector<float> lows;  ///< of it, below 500 Hz
    std::int64_t attack = 0;  ///< the first frame above -40 dB of its peak
};
OneShot oneShotOf(std::span<const float> recording, SampleRate rate);

/// The place at which the cross-correlation with the real sound is largest, among those at which they are not
/// against each other below 500 Hz: there both together are, at any blend, no quieter than the louder of them.
/// `polarity`: one that is settled; none: either. `from`, `to`: places that are looked at, in frames of `real`; may
/// begin before it. None where one of them is silent, or nothing adds up.
std::optional<Fit> fitOf(const OneShot& recording, std::span<const float> real, std::int64_t from, std::int64_t to,
                         std::optional<bool> polarity, SampleRate rate);

/// The place nearest to `usual` within which `reach` frames to both sides no other fits better, by the same measure
/// and of one polarity. None within `farthest` frames.
std::optional<Fit> nearestFit(const OneShot& recording, std::span<const float> real, std::int64_t usual,
                              std::int64_t reach, std::int64_t farthest, bool inverted, SampleRate rate);

/// Below 500 Hz, without delay: a windowed sinc, 4 ms to both sides.
std::vector<float> lowsOf(std::span<const float> sound, SampleRate rate);

} // namespace lampo
