#include "session/settings.h"

namespace lampo {

std::string_view name(Anchor anchor) {
    return anchorNames.of(anchor);
}

} // namespace lampo
