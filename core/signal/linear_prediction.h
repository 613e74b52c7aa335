#pragma once

#include <array>
#include <cstddef>
#include <span>
#include <vector>

namespace lampo {

/// What predicts each sample from the eight before it. Filtered by it, what goes on as it was leaves little, and
/// news stays; what it was learned from is white then.
class LinearPredictor {
public:
    static constexpr std::size_t order = 8; ///< samples that predict one

    /// One more stretch to learn from.
    void learn(std::span<const float> samples);
    /// What is left of `samples` when the prediction is taken out; the first `order`, which nothing predicts, are
    /// as the one behind them.
    std::vector<float> residual(std::span<const float> samples) const;

private:
    std::array<double, order + 1> coefficients() const;

    std::array<double, order + 1> correlation_{};
};

} // namespace lampo
