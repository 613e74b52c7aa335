#pragma once

#include "proof/proof.h"

#include <string>

namespace lampo {

/// A proof as JSON, schema "lampo-proof-1" (docs/formats.md). Positions in result frames.
std::string proofReport(const Session& session, const Proof& proof);

/// What was done in a line, and how tight each drum is, before and after, as a table of plain text.
std::string figuresText(const ProofSummary& summary);

/// The figures and what is open, to be sent along: as plain text.
std::string summaryText(const Session& session, const Proof& proof);
/// The same as one HTML page, which needs no other file.
std::string summaryPage(const Session& session, const Proof& proof);

} // namespace lampo
