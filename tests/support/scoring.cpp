#include "support/scoring.h"

#include <algorithm>
#include <cmath>
#include <cstdlib>

namespace lampo::test {

Score score(std::vector<std::int64_t> found, std::vector<std::int64_t> truth, std::int64_t tolerance,
            std::int64_t lateFrom) {
    std::sort(found.begin(), found.end());
    std::sort(truth.begin(), truth.end());
    Score result;
    for (std::size_t f = 0, t = 0; f < found.size() && t < truth.size();) {
        const std::int64_t error = found[f] - truth[t];
        if (std::abs(error) <= tolerance) {
            result.errors.push_back(error);
            ++f;
            ++t;
        } else {
            ++(error < 0 ? f : t);
        }
    }
    result.matched = result.errors.size();
    const auto all = static_cast<double>(found.size() + truth.size());
    result.f = all > 0 ? 2.0 * static_cast<double>(result.matched) / all : 1.0;
    if (result.errors.empty())
        return result;
    std::sort(result.errors.begin(), result.errors.end());
    std::vector<std::int64_t> sizes = result.errors;
    std::transform(sizes.begin(), sizes.end(), sizes.begin(), [](auto e) { return std::abs(e); });
    std::sort(sizes.begin(), sizes.end());
    result.medianError = static_cast<double>(sizes[sizes.size() / 2]);
    const auto late =
        std::count_if(result.errors.begin(), result.errors.end(), [&](auto e) { return e > lateFrom; });
    result.lateShare = static_cast<double>(late) / static_cast<double>(result.errors.size());
    return result;
}

double lateShare(const std::vector<std::int64_t>& errors) {
    const auto late = std::count_if(errors.begin(), errors.end(), [](auto error) { return error > 24; });
    return errors.empty() ? 0 : static_cast<double>(late) / static_cast<double>(errors.size());
}

double spread(const std::vector<std::int64_t>& errors) {
    double sum = 0, squares = 0;
    for (const auto error : errors) {
        sum += static_cast<double>(error);
        squares += static_cast<double>(error * error);
    }
    const auto count = static_cast<double>(std::max<std::size_t>(1, errors.size()));
    return std::sqrt(std::max(0.0, squares / count - sum / count * sum / count));
}

} // namespace lampo::test
