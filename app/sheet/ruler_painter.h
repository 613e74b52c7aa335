#pragma once

#include "sheet/sheet_state.h"

#include <QPainter>

namespace lampo {

/// Bars, sections and the loop, above the ladder.
void paintRuler(QPainter& painter, const SheetState& state);

} // namespace lampo
