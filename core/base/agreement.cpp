#include "base/agreement.h"

#include <algorithm>

namespace lampo {

std::optional<Agreement> agreementOf(std::vector<std::int64_t> differences, std::int64_t width) {
    if (differences.empty())
        return std::nullopt;
    std::sort(differences.begin(), differences.end());
    Agreement best;
    for (std::size_t first = 0, last = 0; first < differences.size(); ++first) {
        while (last < differences.size() && differences[last] <= differences[first] + width)
            ++last;
        if (last - first > best.count)
            best = {differences[first + (last - first) / 2], last - first};
    }
    return best;
}

} // namespace lampo
