#include "session/in_range.h"

#include "base/text.h"

namespace lampo {

Expected<void> inRange(double value, const limits::Setting& setting, const char* what) {
    if (setting.holds(value))
        return {};
    return fail(ErrorKind::badValue, std::string(what) + " goes from " + trimmedNumber(setting.low) + " to " +
                                         trimmedNumber(setting.high) + " " + setting.unit);
}

} // namespace lampo
