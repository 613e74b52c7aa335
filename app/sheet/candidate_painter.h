#pragma once

#include "sheet/sheet_state.h"

#include <QPainter>

namespace lampo {

/// Over the guides' lanes at the stop Hits: each threshold as a level, what lies above it as heads, what lies below
/// faint, bleed with a stroke through it. Where all strokes are asked for, those of drums that do not guide are
/// faint in their own lanes. From afar faint ones are left out.
void paintCandidates(QPainter& painter, const SheetState& state);

} // namespace lampo
