#pragma once

#include "map/note_value.h"

#include <QStringList>

#include <vector>

namespace lampo {

/// The grids a menu offers, and their names.
const std::vector<NoteValue>& offeredGrids();
QStringList offeredGridNames();
/// Of a grid among them; −1 for none.
int offeredGridIndex(NoteValue grid);

} // namespace lampo
