#pragma once

#include "deliver/print_settings.h"
#include "pipeline/outcome.h"
#include "proof/summary.h"

namespace lampo {

/// hits.csv, slices.csv, seams.csv and figures.csv in a folder, as RFC 4180 has it: the columns are the members of
/// the report's lists (docs/formats.md), in that order, and what a row lacks is empty.
std::vector<PrintedText> tablesOf(const Session& session, const Analyses& analyses, const Outcome& outcome,
                                  const ProofSummary& figures, const std::filesystem::path& folder);

} // namespace lampo
