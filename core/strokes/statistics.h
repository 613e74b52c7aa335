#pragma once

#include "onsets/band_energies.h"

#include <algorithm>
#include <cmath>
#include <cstddef>
#include <optional>
#include <vector>

namespace lampo {

/// 10 log10, so that silence stays a number (−200 dB).
inline double decibelsOfPower(double power) {
    return 10 * std::log10(power + 1e-20);
}
inline double powerOfDecibels(double decibels) {
    return std::pow(10.0, decibels / 10);
}
inline double weightedDecibels(const BandEnergies& energies, const BandEnergies& weights) {
    return decibelsOfPower(weightedPower(energies, weights));
}

/// The value that `share` (0 to 1) of the values lie below; there is at least one. Reorders them.
inline double quantile(std::vector<double>& values, double share) {
    const auto at = values.begin() + static_cast<std::ptrdiff_t>(static_cast<double>(values.size() - 1) * share);
    std::nth_element(values.begin(), at, values.end());
    return *at;
}

/// Where most of some values lie.
struct Densest {
    double share;  ///< of the values, 0 to 1
    double middle; ///< the median of those
};

/// The stretch of that width in which most of the values lie; there is at least one. Sorts them.
inline Densest densest(std::vector<double>& values, double width) {
    std::sort(values.begin(), values.end());
    std::ptrdiff_t most = 0;
    auto begin = values.begin();
    for (auto first = values.begin(); first != values.end(); ++first) {
        const auto count = std::upper_bound(first, values.end(), *first + width) - first;
        if (count > most) {
            most = count;
            begin = first;
        }
    }
    return {static_cast<double>(most) / static_cast<double>(values.size()), *(begin + most / 2)};
}

/// The median of the earliest values of which `enough` lie within that width; none where they nowhere do. Sorts
/// them.
inline std::optional<double> earliestMode(std::vector<double>& values, double width, std::size_t enough) {
    std::sort(values.begin(), values.end());
    for (std::size_t first = 0; first + enough <= values.size(); ++first) {
        if (values[first + enough - 1] - values[first] > width)
            continue;
        const auto end = std::upper_bound(values.begin(), values.end(), values[first] + 2 * width);
        std::vector<double> around(values.begin() + static_cast<std::ptrdiff_t>(first), end);
        return densest(around, width).middle;
    }
    return std::nullopt;
}

/// dB under a strong stroke: what is as loud is strong as well.
inline constexpr double strongWithin = 10;

/// The median of those within 10 dB of the second loudest: one crash of sticks does not set the scale.
inline double strongOf(std::vector<double> levels) {
    if (levels.empty())
        return -200;
    std::sort(levels.rbegin(), levels.rend());
    const double limit = levels[levels.size() < 3 ? 0 : 1] - strongWithin;
    const auto loud = std::find_if(levels.begin(), levels.end(), [&](double level) { return level < limit; });
    return levels[static_cast<std::size_t>(loud - levels.begin()) / 2];
}

} // namespace lampo
