#include "session/settings.h"

#include <algorithm>

namespace lampo {

std::string_view name(Anchor anchor) {
    return anchorNames[static_cast<std::size_t>(anchor)];
}

std::optional<Anchor> anchorNamed(std::string_view name) {
    const auto found = std::find(anchorNames.begin(), anchorNames.end(), name);
    return found == anchorNames.end() ? std::nullopt
                                      : std::optional(static_cast<Anchor>(found - anchorNames.begin()));
}

} // namespace lampo
