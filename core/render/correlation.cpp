#include "render/correlation.h"

#include "render/spectra.h"

#include <algorithm>
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

std::vector<float> slidingProducts(std::span<const float> whole, std::span<const float> part) {
    std::size_t size = 2;
    while (size < whole.size() + part.size())
        size *= 2;
    Spectra spectra(size);
    const auto transformed = [&](std::span<const float> sound) {
        std::fill(std::copy(sound.begin(), sound.end(), spectra.block().begin()), spectra.block().end(), 0.0F);
        spectra.forward();
        return std::vector<std::complex<float>>(spectra.bins().begin(), spectra.bins().end());
    };
    const auto a = transformed(whole), b = transformed(part);
    for (std::size_t i = 0; i < a.size(); ++i)
        spectra.bins()[i] = a[i] * std::conj(b[i]);
    spectra.back();
    const auto block = spectra.block();
    std::vector<float> products(block.begin(),
                                block.begin() + static_cast<std::ptrdiff_t>(whole.size() - part.size() + 1));
    for (float& product : products)
        product /= static_cast<float>(size);
    return products;
}

} // namespace lampo
