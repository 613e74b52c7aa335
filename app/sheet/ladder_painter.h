#pragma once

#include "sheet/sheet_state.h"

#include <QPainter>

namespace lampo {

/// The picture of the edit: as played above, as landed below, a line from each hit to its landing.
void paintLadder(QPainter& painter, const SheetState& state);

} // namespace lampo
