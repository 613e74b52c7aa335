#include "demo_kit/random.h"

#include <cmath>
#include <numbers>

namespace lampo::demo {

double Random::uniform() {
    return static_cast<double>(engine_() >> 11) * 0x1.0p-53;
}

double Random::gaussian() {
    // Box and Muller, 1958.
    const double radius = std::sqrt(-2.0 * std::log(1.0 - uniform()));
    return radius * std::cos(2.0 * std::numbers::pi * uniform());
}

} // namespace lampo::demo
