#pragma once

#include "sheet/sheet_state.h"

#include <QImage>

namespace lampo {

/// Writes the lanes into `image` (as large as the sheet, RGB32): waveforms as played above, as landed below, or one
/// of them over the whole height; bar and beat lines; cuts, lead-ins and seams. Pixels are set directly: that is
/// ten times as fast as lines drawn one by one.
void paintLanes(QImage& image, const SheetState& state, Document& document);

} // namespace lampo
