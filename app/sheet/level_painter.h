#pragma once

#include "sheet/sheet_state.h"

#include <QPainter>

namespace lampo {

/// How loud every stroke is against a strong one of its drum: one notehead per hit, hollow where a patch changes
/// it, with a line to what it becomes; the chosen ones' median is dashed, drum by drum.
void paintLevels(QPainter& painter, const SheetState& state);

} // namespace lampo
