#include "hits/detection.h"

#include <algorithm>

namespace lampo {

BandWeights defaultEmphasis(Role role) {
    switch (role) {
    case Role::kick:
        return {1.0, 0.5, 0.7, 0.5};
    case Role::snare:
        return {0.15, 0.6, 1.0, 1.0};
    case Role::tom:
        return {0.7, 1.0, 0.7, 0.3};
    case Role::hat:
    case Role::cymbal:
        return {0.05, 0.1, 0.6, 1.0};
    default:
        return {1, 1, 1, 1};
    }
}

BandWeights emphasisOf(const Mic& mic) {
    return mic.emphasis.value_or(defaultEmphasis(mic.role));
}

OnsetSettings onsetSettings(const BandWeights& emphasis) {
    OnsetSettings settings;
    std::transform(emphasis.begin(), emphasis.end(), settings.weights.begin(),
                   [](double weight) { return static_cast<float>(weight); });
    return settings;
}

} // namespace lampo
