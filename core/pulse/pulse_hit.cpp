#include "pulse/pulse_hit.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace lampo {

double weightOf(const PulseHit& hit) {
    constexpr std::array<double, voiceCount> ofVoice{1, 1, 0.5, 0.4, 0.7, 0.5};
    return ofVoice[static_cast<std::size_t>(hit.voice)] * std::min(1.0, std::pow(10.0, hit.level.value / 20));
}

bool isStrong(const PulseHit& hit) {
    return hit.level.value >= -9 && hit.voice != Voice::hat;
}

} // namespace lampo
