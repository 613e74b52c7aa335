#pragma once

#include "sheet/sheet_state.h"

#include <QPainter>

namespace lampo {

/// The early/late plot: one notehead per hit, above the zero line early, below late; ±5 ms is shaded.
void paintPlot(QPainter& painter, const SheetState& state);

} // namespace lampo
