#pragma once

#include "pipeline/outcome.h"

#include <string>

namespace lampo {

/// The edit as JSON, schema "lampo-report-1" (docs/formats.md). Positions in samples.
std::string reportText(const Session& session, const Analyses& analyses, const Outcome& outcome);

} // namespace lampo
