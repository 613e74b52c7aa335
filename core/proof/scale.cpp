#include "proof/scale.h"

#include <algorithm>
#include <array>

namespace lampo {

const ProofScale& scaleOf(ProofKind kind) {
    static constexpr std::array<ProofScale, proofKindNames.count> scales{{
        {"dB over 24 dB below the stroke", 0, 12, 24}, // doubled attack
        {"dB of the attack lost", 3, 6, 20},           // lost attack
        {"times the steepest step around", 1, 3, 10},  // click
        {"dB", 4, 8, 20},                              // dip
        {"ms heard again", 10, 50, 150},               // stutter
        {"dB", 6, 12, 30},                             // swallowed ring
        {"ms", 3, 10, 25},                             // flam
        {"of a sure line's lead lacking", 0, 0.5, 1},  // wrong line
        {"ms", 10, 20, 40},                            // loose
        {"ms", 0.1, 1, 3},                             // phase
        {"dB", 2, 6, 12},                              // level
        {"ms", 50, 500, 2000},                         // silent
        {"times what is allowed", 1, 3, 8},            // stretched
        {"corrections", 0.5, 1, 20},                   // lost correction
        {"doubts", 0.5, 1, 10},                        // map
    }};
    return scales[static_cast<std::size_t>(kind)];
}

double gravityOf(ProofKind kind, double size) {
    const ProofScale& scale = scaleOf(kind);
    const auto between = [&](double low, double high, double from, double to) {
        return from + (to - from) * (size - low) / (high - low);
    };
    const double gravity = size < scale.told    ? 2 * size / std::max(scale.told, 1e-9)
                           : size < scale.plain ? between(scale.told, scale.plain, 2, 5)
                                                : between(scale.plain, scale.ruinous, 5, 9);
    return std::clamp(gravity, 0.0, 10.0);
}

} // namespace lampo
