#pragma once

#include "deliver/report.h"

#include <nlohmann/json.hpp>

namespace lampo {

/// What reportText() writes.
nlohmann::json reportJson(const Session& session, const Analyses& analyses, const Outcome& outcome,
                          const ProofSummary* proof);

} // namespace lampo
