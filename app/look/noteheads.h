#pragma once

#include "session/role.h"

#include <QPainter>

namespace lampo {

/// Draws the notehead of a voice around `centre`: kick a filled round head, snare a filled diamond, toms a triangle,
/// hat and cymbals a cross, others a small square. `size` is its height in pixels. Unfilled heads are for what is
/// left as played.
void drawNotehead(QPainter& painter, QPointF centre, double size, Voice voice, const QColor& ink, bool filled = true);

} // namespace lampo
