#pragma once

#include "chain/analyses.h"
#include "kit/file_starts.h"
#include "kit/polarity.h"
#include "session/edit.h"

namespace lampo {

/// What the files of the sounding take say about the kit, for those who set it up.
struct KitCheck {
    std::vector<FalseStart> starts;
    std::vector<PolarityPair> polarity;
};

/// Once all mics were listened to; what cannot be read is passed over.
KitCheck checkKit(const Session& session, const Analyses& analyses, const Progress& progress);

/// The edit that brings the false starts of the sounding take together.
SetOffsets startingTogether(const Session& session, const KitCheck& check);

} // namespace lampo
