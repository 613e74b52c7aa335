#include "hits/detection.h"

namespace lampo {

OnsetSettings onsetSettings(Role role) {
    OnsetSettings settings;
    switch (role) {
    case Role::kick:
        settings.weights = {1.0F, 0.5F, 0.7F, 0.5F};
        break;
    case Role::snare:
        settings.weights = {0.15F, 0.6F, 1.0F, 1.0F};
        break;
    case Role::tom:
        settings.weights = {0.7F, 1.0F, 0.7F, 0.3F};
        break;
    case Role::hat:
    case Role::cymbal:
        settings.weights = {0.05F, 0.1F, 0.6F, 1.0F};
        break;
    default:
        break;
    }
    return settings;
}

} // namespace lampo
