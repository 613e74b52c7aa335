#include "seam_search/sides.h"

#include <algorithm>
#include <cmath>

namespace lampo {
namespace {

/// Mean square under which nothing sounds: −66 dB.
constexpr double silence = 2.5e-7;

float inDecibels(double ratio) {
    return ratio == 1 ? 0.0F : static_cast<float>(10 * std::log10(ratio));
}

} // namespace

SeamSides::SeamSides(std::span<const float> earlier, std::span<const float> later, std::size_t bin) {
    const std::size_t bins = earlier.size() / bin;
    for (auto* sums : {&earlier_, &later_, &product_})
        sums->assign(bins + 1, 0.0);
    for (std::size_t i = 0; i < bins; ++i) {
        float a = 0, b = 0, ab = 0;
        for (std::size_t k = i * bin; k < (i + 1) * bin; ++k) {
            a += earlier[k] * earlier[k];
            b += later[k] * later[k];
            ab += earlier[k] * later[k];
        }
        const auto size = static_cast<double>(bin);
        earlier_[i + 1] = earlier_[i] + a / size;
        later_[i + 1] = later_[i] + b / size;
        product_[i + 1] = product_[i] + ab / size;
    }
}

std::optional<float> SeamSides::likeness(std::size_t begin, std::size_t length) const {
    const std::size_t end = begin + length;
    const double a = earlier_[end] - earlier_[begin], b = later_[end] - later_[begin];
    if (std::min(a, b) < silence * static_cast<double>(length))
        return std::nullopt;
    return static_cast<float>((product_[end] - product_[begin]) / std::sqrt(a * b));
}

std::array<SeamFigures, 2> SeamSides::joined(std::size_t begin, std::span<const FadeGains> gains,
                                             std::array<std::size_t, 2> windows) const {
    const Bins fade{begin, begin + gains.size()};
    // Energy of the result from the begin of the first window on.
    const std::size_t first = begin - windows[0] / 2;
    thread_local std::vector<double> out; // hundreds of thousands of times in a row
    out.assign(1, 0.0);
    for (std::size_t i = first; i < fade.end + windows[0] / 2; ++i) {
        const double a = earlier_[i + 1] - earlier_[i], b = later_[i + 1] - later_[i];
        double energy = i < begin ? a : b;
        if (i >= begin && i < fade.end) {
            const auto [fadeOut, fadeIn] = gains[i - begin];
            const double ab = product_[i + 1] - product_[i];
            energy = fadeOut * fadeOut * a + fadeIn * fadeIn * b + 2 * fadeOut * fadeIn * ab;
        }
        out.push_back(out.back() + energy);
    }
    return {figures(out, first, fade, windows[0]), figures(out, first, fade, windows[1])};
}

/// `out`: running sums from bin `first` on.
SeamFigures SeamSides::figures(std::span<const double> out, std::size_t first, Bins fade,
                               std::size_t window) const {
    double dip = 1, bump = 1;
    for (std::size_t from = fade.begin - window / 2; from + window <= fade.end + window / 2; ++from) {
        const double a = earlier_[from + window] - earlier_[from], b = later_[from + window] - later_[from];
        const double quieter = std::min(a, b);
        if (quieter < silence * static_cast<double>(window))
            continue;
        const double joint = std::max(out[from - first + window] - out[from - first], 1e-12);
        dip = std::max(dip, quieter / joint);
        bump = std::max(bump, joint / std::max(a, b));
    }
    return {inDecibels(dip), inDecibels(bump)};
}

} // namespace lampo
