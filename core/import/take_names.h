#pragma once

#include "import/import_plan.h"

#include <optional>
#include <vector>

namespace lampo {

/// The mics and takes that the file names of one folder carry, one for each stem; none when they speak of one take
/// only. A bare number or letter at the end counts only when it makes a table of mics and takes with few gaps, so
/// "rack 1" and "rack 2" are two drums.
std::optional<std::vector<TakeName>> takesByName(const std::vector<std::string>& stems);

} // namespace lampo
