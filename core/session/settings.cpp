#include "session/settings.h"

#include <algorithm>

namespace lampo {

std::string_view name(Anchor anchor) {
    return anchorNames.of(anchor);
}

std::optional<Anchor> anchorNamed(std::string_view name) {
    return anchorNames.named(name);
}

} // namespace lampo
