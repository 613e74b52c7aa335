#pragma once

#include "look/actions.h"
#include "stops/seams/seams_panel.h"

namespace lampo {

/// Fills the menu of what mends single strokes and stretches on some mics.
void fillRepairMenu(const ActionMenu& where, SeamsPanel& repairs);

} // namespace lampo
