#pragma once

#include "sheet/sheet_state.h"

#include <QPainter>

namespace lampo {

/// Frames the patches that are on, on the lanes they lie on, as landed.
void paintPatches(QPainter& painter, const SheetState& state);

} // namespace lampo
