#include "onsets/whitened.h"

namespace lampo {
namespace {

// From the kits in bench/ears.cpp.
constexpr float centre = 0.8F; ///< of the three samples that each is the mean of

} // namespace

std::vector<float> whitened(const LinearPredictor& between, std::span<const float> sound) {
    std::vector<float> white = between.residual(sound);
    float before = 0;
    for (std::size_t i = 0; i + 1 < white.size(); ++i) {
        const float here = white[i];
        white[i] = centre * here + 0.5F * (1 - centre) * (before + white[i + 1]);
        before = here;
    }
    return white;
}

} // namespace lampo
