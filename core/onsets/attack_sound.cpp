#include "onsets/attack_sound.h"

#include "onsets/band_energies.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <numeric>

namespace lampo {
namespace {

/// A low pass at a third of the kept rate: a sinc under a Hann window (textbook).
std::vector<float> lowPass(std::size_t factor) {
    const std::size_t taps = 8 * factor + 1;
    const double cut = 1.0 / (3.0 * static_cast<double>(factor)); // in parts of the file's rate
    std::vector<float> window(taps);
    for (std::size_t i = 0; i < taps; ++i) {
        const double t = static_cast<double>(i) - static_cast<double>(4 * factor);
        const double x = 2 * std::numbers::pi * cut * t;
        const double hann = 0.5 + 0.5 * std::cos(std::numbers::pi * t / static_cast<double>(4 * factor + 1));
        window[i] = static_cast<float>(hann * (t == 0 ? 1 : std::sin(x) / x));
    }
    const float sum = std::accumulate(window.begin(), window.end(), 0.0F);
    for (float& tap : window)
        tap /= sum;
    return window;
}

} // namespace

AttackSounds::AttackSounds(SampleRate rate) : rate_(rate), factor_(hopOf(rate) / 16), window_(lowPass(factor_)) {
    const double perMillisecond = rate.hz / 1000.0 / static_cast<double>(factor_);
    lead_ = static_cast<std::size_t>(before.value * perMillisecond);
    length_ = lead_ + static_cast<std::size_t>(after.value * perMillisecond);
}

void AttackSounds::add(std::span<const float> frames) {
    std::vector<float> kept(length_);
    for (std::size_t i = 0; i < length_; ++i)
        kept[i] = std::inner_product(window_.begin(), window_.end(),
                                     frames.begin() + static_cast<std::ptrdiff_t>(i * factor_), 0.0F);
    float peak = 1e-9F;
    for (const float x : kept)
        peak = std::max(peak, std::abs(x));
    for (const float x : kept)
        samples_.push_back(static_cast<std::int8_t>(std::lround(127 * x / peak)));
}

} // namespace lampo
