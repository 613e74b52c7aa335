#pragma once

#include <cstdint>
#include <optional>
#include <vector>

namespace lampo {

/// What most of many differences agree on.
struct Agreement {
    std::int64_t value = 0; ///< the middle one of those that agree
    std::size_t count = 0;  ///< how many do
};

/// The fullest window of `width` among the differences; none without differences. O(n log n).
std::optional<Agreement> agreementOf(std::vector<std::int64_t> differences, std::int64_t width);

} // namespace lampo
