#include "project/json_difference.h"

#include <numeric>

namespace lampo {

using nlohmann::json;

json difference(const json& from, const json& to) {
    json patch = json::object();
    for (const auto& [key, value] : to.items()) {
        const auto old = from.find(key);
        const bool known = old != from.end();
        if (known && old->is_object() && value.is_object()) {
            if (json inner = difference(*old, value); !inner.empty())
                patch[key] = std::move(inner);
        } else if (!known || *old != value) {
            patch[key] = value;
        }
    }
    for (const auto& [key, value] : from.items())
        if (!to.contains(key))
            patch[key] = nullptr;
    return patch;
}

std::size_t countValues(const json& value) {
    if (!value.is_structured())
        return 1;
    return std::accumulate(value.begin(), value.end(), std::size_t{1},
                           [](std::size_t sum, const json& inner) { return sum + countValues(inner); });
}

} // namespace lampo
