#pragma once

#include "sheet/sheet_state.h"

#include <QString>

namespace lampo {

/// What the sheet shows, in words.
QString wordsFor(const SheetState& state, HitIndex hit);
QString wordsFor(const SheetState& state, SheetState::CandidateRef candidate);
QString wordsFor(const SheetState& state, SeamIndex seam);
/// "borrowed", "stretched × 1.12", "repeated 38 ms".
QString wordsFor(const Seam& seam, SampleRate rate);
/// What placed it: "rule", "sound", "hand".
QString wordsFor(PlacedBy by);
/// What lies under a point; empty where nothing does.
QString wordsFor(const SheetState& state, QPoint point);

} // namespace lampo
