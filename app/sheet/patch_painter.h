#pragma once

#include "sheet/sheet_state.h"

#include <QPainter>

namespace lampo {

/// Frames the patches that are on, on the lanes they lie on, as landed.
void paintPatches(QPainter& painter, const SheetState& state);

/// Where edits are done to some mics alone: the others' lanes are paler, and those mics are named.
void paintOnly(QPainter& painter, const SheetState& state);

} // namespace lampo
