#pragma once

#include "base/progress.h"
#include "pipeline/outcome.h"

namespace lampo {

/// The outcome once every seam lies where it sounds best: what `analyses` do not know yet is searched for, and
/// known to them afterwards, also what was found before an error. Errors: those of searchSeams.
Expected<std::shared_ptr<const Outcome>> withSearchedSeams(const Session& session, Analyses& analyses,
                                                           std::shared_ptr<const Outcome> outcome,
                                                           const Progress& progress);

} // namespace lampo
