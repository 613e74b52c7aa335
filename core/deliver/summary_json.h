#pragma once

#include "proof/summary.h"

#include <nlohmann/json.hpp>

namespace lampo {

/// The figures of a proof, the same in its own report and in that of the edit.
nlohmann::json summaryJson(const ProofSummary& summary);

} // namespace lampo
