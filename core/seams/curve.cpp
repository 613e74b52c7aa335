#include "seams/curve.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace lampo {

FadeGains matchedGains(double along, double correlation) {
    const double angle = std::clamp(along, 0.0, 1.0) * std::numbers::pi / 2;
    const double r = std::clamp(correlation, 0.0, 1.0);
    // With a = A cos, b = A sin the condition reads A² (1 + r sin 2·angle) = 1.
    const double scale = 1.0 / std::sqrt(1.0 + r * std::sin(2 * angle));
    return {static_cast<float>(scale * std::cos(angle)), static_cast<float>(scale * std::sin(angle))};
}

} // namespace lampo
