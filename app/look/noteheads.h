#pragma once

#include "session/role.h"

#include <QHash>
#include <QPainter>
#include <QPixmap>
#include <QPolygonF>

namespace lampo {

/// What a notehead tells.
struct Notehead {
    Voice voice;
    QColor ink;
    bool filled = true;
};

/// Draws a notehead around `centre`: kick a filled round head, snare a filled diamond, toms a
/// triangle, hat and cymbals a cross, others a small square. `size` is its height in pixels. Unfilled heads are for
/// what is left as played.
void drawNotehead(QPainter& painter, QPointF centre, double size, const Notehead& head);

/// Little squares in place of heads that would hide each other. Filled rectangles are several times as fast as wide
/// points.
void drawDots(QPainter& painter, const QPolygonF& centres, int size, const QColor& ink);

/// Many heads of one size: each kind is drawn once and then stamped, to the nearest pixel, which is ten times as
/// fast. Lives for one painting.
class NoteheadStamps {
public:
    NoteheadStamps(QPainter& painter, double size);
    void stamp(QPointF centre, Voice voice, const QColor& ink, bool filled = true);

private:
    QPainter& painter_;
    double size_;
    int side_;
    QHash<quint64, QPixmap> stamps_;
};

} // namespace lampo
