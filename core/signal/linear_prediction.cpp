#include "signal/linear_prediction.h"

#include <algorithm>

namespace lampo {

void LinearPredictor::learn(std::span<const float> samples) {
    for (std::size_t lag = 0; lag <= order; ++lag)
        for (std::size_t i = lag; i < samples.size(); ++i)
            correlation_[lag] += static_cast<double>(samples[i]) * samples[i - lag];
}

/// Levinson and Durbin's recursion on the autocorrelation (textbook).
std::array<double, LinearPredictor::order + 1> LinearPredictor::coefficients() const {
    auto correlation = correlation_;
    correlation[0] = correlation[0] * (1 + 1e-5) + 1e-12;
    std::array<double, order + 1> a{1};
    double error = correlation[0];
    for (std::size_t m = 1; m <= order; ++m) {
        double reflection = 0;
        for (std::size_t k = 0; k < m; ++k)
            reflection -= a[k] * correlation[m - k];
        reflection /= error;
        const auto last = a;
        for (std::size_t k = 1; k <= m; ++k)
            a[k] = last[k] + reflection * last[m - k];
        error *= 1 - reflection * reflection;
    }
    return a;
}

std::vector<float> LinearPredictor::residual(std::span<const float> samples) const {
    const auto a = coefficients();
    std::vector<float> out(samples.size());
    for (std::size_t i = order; i < samples.size(); ++i) {
        double sum = 0;
        for (std::size_t k = 0; k <= order; ++k)
            sum += a[k] * samples[i - k];
        out[i] = static_cast<float>(sum);
    }
    std::fill_n(out.begin(), std::min(order, out.size()), out.size() > order ? out[order] : 0.0F);
    return out;
}

} // namespace lampo
