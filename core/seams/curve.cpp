#include "seams/curve.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace lampo {

FadeGains matchedGains(double along, double correlation) {
    const double angle = std::clamp(along, 0.0, 1.0) * std::numbers::pi / 2;
    const double r = std::clamp(correlation, leastLikeness, 1.0);
    // With a = A cos, b = A sin the condition reads A² (1 + r sin 2·angle) = 1.
    const double scale = 1.0 / std::sqrt(1.0 + r * std::sin(2 * angle));
    return {static_cast<float>(scale * std::cos(angle)), static_cast<float>(scale * std::sin(angle))};
}

FadeGains fadeGains(FadeCurve curve, double along, double likeness) {
    switch (curve) {
    case FadeCurve::equalPower:
        return matchedGains(along, 0);
    case FadeCurve::equalGain: {
        const auto in = static_cast<float>(std::clamp(along, 0.0, 1.0));
        return {1 - in, in};
    }
    case FadeCurve::decibels: {
        constexpr double floor = 1e-3; // −60 dB
        const auto gain = [](double x) {
            return static_cast<float>((std::pow(floor, std::clamp(x, 0.0, 1.0)) - floor) / (1 - floor));
        };
        return {gain(along), gain(1 - along)};
    }
    case FadeCurve::matched:
        break;
    }
    return matchedGains(along, likeness);
}

} // namespace lampo
