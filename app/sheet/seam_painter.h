#pragma once

#include "sheet/sheet_state.h"

#include <QPainter>

namespace lampo {

/// Draws the seams that are wide enough to be told apart: both fades as they are, what was borrowed hatched behind
/// them, the chosen ones framed, and in words what they are where there is room.
void paintSeams(QPainter& painter, const SheetState& state);

} // namespace lampo
