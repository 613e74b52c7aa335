#pragma once

#include "base/error.h"
#include "base/limits.h"

namespace lampo {

/// Whether a setting can have this value. Errors: badValue, with a sentence that names the range: "A fade goes from
/// 1 to 50 ms".
Expected<void> inRange(double value, const limits::Setting& setting, const char* what);

} // namespace lampo
