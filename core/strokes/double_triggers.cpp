#include "strokes/double_triggers.h"

#include "strokes/statistics.h"

#include <algorithm>
#include <cmath>

namespace lampo {
namespace {

// Common practice, no source: nobody strikes one drum twice within 4 ms; graces are 15 to 35 ms before their
// strokes, and never within a millisecond as far each time.
constexpr double sameStroke = 4;     ///< ms
constexpr double latest = 30;        ///< ms
constexpr double sameDistance = 0.7; ///< ms to both sides of the usual one
constexpr double many = 0.3;         ///< of the strong strokes
constexpr double strongFrom = -12;   ///< dB
constexpr double steady = 0.8;       ///< of the distances that are so short
constexpr std::size_t enough = 8;

/// The usual distance of strokes from the one before, where it is always the same; else none (0).
double typicalDistance(std::span<const DatedStroke> strokes) {
    std::vector<double> distances;
    std::size_t strong = 0;
    for (std::size_t s = 1; s < strokes.size(); ++s) {
        if (strokes[s - 1].level.value < strongFrom)
            continue;
        ++strong;
        if (const double distance = strokes[s].at.value - strokes[s - 1].at.value;
            distance > sameStroke && distance < latest)
            distances.push_back(distance);
    }
    const auto firsts = static_cast<double>(strong - distances.size());
    if (distances.size() < enough || static_cast<double>(distances.size()) < many * firsts)
        return 0;
    const double usual = quantile(distances, 0.5);
    const auto near = std::count_if(distances.begin(), distances.end(),
                                    [&](double distance) { return std::abs(distance - usual) <= sameDistance; });
    return static_cast<double>(near) < steady * static_cast<double>(distances.size()) ? 0 : usual;
}

} // namespace

std::vector<bool> doubleTriggers(std::span<const DatedStroke> strokes) {
    std::vector<bool> after(strokes.size());
    if (strokes.empty())
        return after;
    const double usual = typicalDistance(strokes);
    double stroke = strokes.front().at.value;
    for (std::size_t s = 1; s < strokes.size(); ++s) {
        const double distance = strokes[s].at.value - stroke;
        after[s] = distance < sameStroke || std::abs(distance - usual) <= sameDistance;
        if (!after[s])
            stroke = strokes[s].at.value;
    }
    return after;
}

} // namespace lampo
