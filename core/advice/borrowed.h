#pragma once

#include "edits/edit.h"
#include "pipeline/outcome.h"

namespace lampo {

/// Where a stretch of some mics comes from.
struct BorrowFrom {
    TakeIndex take; ///< whose sound it is
    int bars = 0;   ///< how many bars behind the stretch's own place it was played; negative: before it
};

/// A stretch of the song on some mics from another take or bar, as that lands there when it is laid in for all
/// mics: slice by slice, with its own corrections. Errors: badValue where the stretch or the mics are empty, or
/// there is nothing to take.
Expected<AddPatches> borrowed(const Session& session, const Analyses& analyses, const Outcome& outcome,
                              Range<ResultFrame> stretch, const std::vector<std::string>& mics, BorrowFrom from);

} // namespace lampo
