#include "session/refusals.h"

#include "base/text.h"

#include <fmt/core.h>

namespace lampo {

Expected<void> inRange(double value, const limits::Setting& setting, const char* what) {
    if (setting.holds(value))
        return {};
    return refuse(fmt::format("{} goes from {} to {} {}", what, trimmedNumber(setting.low),
                              trimmedNumber(setting.high), setting.unit));
}

tl::unexpected<Error> noSuch(const std::string& what) {
    return refuse("There is no such " + what);
}

} // namespace lampo
