#include "render/correlation.h"

#include <cmath>

namespace lampo {

double alongFade(std::int64_t k, FrameCount length) {
    return (static_cast<double>(k) + 0.5) / static_cast<double>(length.frames);
}

void MeanCorrelation::add(std::span<const float> a, std::span<const float> b) {
    double product = 0, powerA = 0, powerB = 0;
    for (std::size_t i = 0; i < a.size(); ++i) {
        product += static_cast<double>(a[i]) * b[i];
        powerA += static_cast<double>(a[i]) * a[i];
        powerB += static_cast<double>(b[i]) * b[i];
    }
    const double scale = std::sqrt(powerA * powerB);
    if (scale <= 1e-15)
        return;
    sum_ += product / scale;
    ++sounding_;
}

} // namespace lampo
