#pragma once

#include <algorithm>
#include <cmath>
#include <cstddef>
#include <span>
#include <vector>

// Small figures of sounds and of lists of numbers that several listeners need.
namespace lampo {

/// Sum of squares.
inline double energyOf(std::span<const float> sound) {
    double sum = 0;
    for (const float sample : sound)
        sum += double{sample} * sample;
    return sum;
}
/// Of a ratio of energies, between -200 and 200 dB.
inline double inDecibels(double ratio) {
    return 10 * std::log10(std::clamp(ratio, 1e-20, 1e20));
}
/// dBFS of a mean square, −200 for silence.
inline double levelOf(std::span<const float> sound) {
    return inDecibels(energyOf(sound) / static_cast<double>(std::max<std::size_t>(1, sound.size())));
}
/// The value that so many quarters of all are below; `otherwise` where there are none.
template <class T>
T quartileOf(std::vector<T> values, std::size_t quarters, T otherwise = {}) {
    if (values.empty())
        return otherwise;
    const std::size_t at = std::min(values.size() * quarters / 4, values.size() - 1);
    std::nth_element(values.begin(), values.begin() + static_cast<std::ptrdiff_t>(at), values.end());
    return values[at];
}
/// The middle one, likewise.
template <class T>
T medianOf(std::vector<T> values, T otherwise = {}) {
    return quartileOf(std::move(values), 2, otherwise);
}

} // namespace lampo
