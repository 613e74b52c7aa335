#include "signal/sliding_products.h"

#include <algorithm>
#include <bit>

namespace lampo {

SlidingParts::SlidingParts(std::span<const std::span<const float>> parts, std::size_t size)
    : spectra_(size), length_(parts.front().size()), products_(parts.size()) {
    for (const std::span<const float> part : parts) {
        transform(part);
        parts_.emplace_back(spectra_.bins().begin(), spectra_.bins().end());
    }
}

void SlidingParts::transform(std::span<const float> sound) {
    std::fill(std::copy(sound.begin(), sound.end(), spectra_.block().begin()), spectra_.block().end(), 0.0F);
    spectra_.forward();
}

const std::vector<std::vector<float>>& SlidingParts::along(std::span<const float> sound) {
    transform(sound);
    const std::vector<std::complex<float>> whole(spectra_.bins().begin(), spectra_.bins().end());
    const auto block = spectra_.block();
    for (std::size_t p = 0; p < parts_.size(); ++p) {
        for (std::size_t i = 0; i < whole.size(); ++i)
            spectra_.bins()[i] = whole[i] * std::conj(parts_[p][i]);
        spectra_.back();
        products_[p].assign(block.begin(), block.begin() + static_cast<std::ptrdiff_t>(sound.size() - length_ + 1));
        for (float& product : products_[p])
            product /= static_cast<float>(block.size());
    }
    return products_;
}

std::vector<float> slidingProducts(std::span<const float> sound, std::span<const float> part) {
    return SlidingParts({&part, 1}, std::bit_ceil(sound.size() + part.size())).along(sound).front();
}

} // namespace lampo
