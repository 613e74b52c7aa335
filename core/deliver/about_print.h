#pragma once

#include "deliver/print_settings.h"
#include "pipeline/outcome.h"
#include "proof/summary.h"

#include <string>

namespace lampo {

/// The text beside a print: what was done, by which settings, and how tight it is. Plain text, to be followed by
/// the names and checksums of its files. `heard`: whether the figures are of the sound, not of the marks alone.
std::string aboutPrint(const Session& session, const PrintSettings& settings, const ProofSummary& figures,
                       bool heard);

} // namespace lampo
