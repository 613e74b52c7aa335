#include "onsets/attack_sound.h"

#include <algorithm>
#include <cmath>

namespace lampo {
AttackSounds::AttackSounds(SampleRate rate) : rate_(rate), lowRate_(rate) {
    const double perMillisecond = rate.hz / 1000.0 / static_cast<double>(factor());
    lead_ = static_cast<std::size_t>(before.value * perMillisecond);
    length_ = lead_ + static_cast<std::size_t>(after.value * perMillisecond);
}

void AttackSounds::add(std::span<const float> frames) {
    std::vector<float> kept(length_);
    for (std::size_t i = 0; i < length_; ++i)
        kept[i] = lowRate_.around(frames.subspan(i * factor()));
    float peak = 1e-9F;
    for (const float x : kept)
        peak = std::max(peak, std::abs(x));
    for (const float x : kept)
        samples_.push_back(static_cast<std::int8_t>(std::lround(127 * x / peak)));
}

} // namespace lampo
