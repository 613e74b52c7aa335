#include "onsets/low_rate.h"

#include "onsets/band_energies.h"

#include <cmath>
#include <numbers>
#include <numeric>

namespace lampo {
namespace {

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

LowRate::LowRate(SampleRate rate) : factor_(hopOf(rate) / 16), window_(lowPass(factor_)) {}

float LowRate::around(std::span<const float> frames) const {
    return std::inner_product(window_.begin(), window_.end(), frames.begin(), 0.0F);
}

void LowRateSound::add(std::span<const float> frames) {
    waiting_.insert(waiting_.end(), frames.begin(), frames.end());
    std::span<const float> left(waiting_);
    for (; left.size() > 2 * lowRate_.margin(); left = left.subspan(factor()))
        samples_.push_back(lowRate_.around(left));
    waiting_.erase(waiting_.begin(), waiting_.end() - std::ssize(left));
}

} // namespace lampo
