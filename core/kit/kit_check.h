#pragma once

#include "edits/edit.h"
#include "kit/file_starts.h"
#include "kit/polarity.h"
#include "pipeline/analyses.h"

namespace lampo {

/// What the files of one take say about the kit, for those who set it up.
struct KitCheck {
    TakeIndex take;                     ///< index in the session
    std::vector<FalseStart> starts;     ///< files that seem to begin elsewhere
    std::vector<PolarityPair> polarity; ///< mics of one drum, compared
};

/// Once all mics were analysed; what cannot be read is passed over.
KitCheck checkKit(const Session& session, TakeIndex take, const Analyses& analyses, const Progress& progress);

/// The edit that brings the false starts of its take together.
SetOffsets startTogetherEdit(const Session& session, const KitCheck& check);

} // namespace lampo
