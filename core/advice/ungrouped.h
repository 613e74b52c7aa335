#pragma once

#include "edits/edit.h"
#include "pipeline/outcome.h"

namespace lampo {

/// Whether an edit speaks of single hits or seams, so that it may be meant for some mics alone.
bool editsHitsOrSeams(const Edit& edit);

/// An edit of hits or seams done to some mics alone, as patches on top of the plan: hits that would land elsewhere
/// are shifted there, hits that are taken out are silent in their slices, seams lie elsewhere. What such a patch
/// said before of the same hit and mics gives way, and a shift adds to what it said. Errors: badValue where no mic
/// is named, for any other edit, and where nothing of the kind can be done.
Expected<PatchEdit> onMicsAlone(const Session& session, const Analyses& analyses, const Outcome& outcome,
                                const std::vector<std::string>& mics, const Edit& edit);

} // namespace lampo
