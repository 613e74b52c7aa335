#pragma once

#include "pipeline/outcome.h"
#include "proof/summary.h"

#include <string>

namespace lampo {

/// The edit as JSON, schema "lampo-report-1" (docs/formats.md). Positions in samples. `proof`: what listening to
/// the result found; null where nobody listened.
std::string reportText(const Session& session, const Analyses& analyses, const Outcome& outcome,
                       const ProofSummary* proof = nullptr);

} // namespace lampo
