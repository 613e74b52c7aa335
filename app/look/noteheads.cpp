#include "look/noteheads.h"

#include <QPolygonF>

namespace lampo {

void drawNotehead(QPainter& painter, QPointF c, double size, Voice voice, const QColor& ink, bool filled) {
    const double r = size / 2;
    painter.setPen(QPen(ink, voice == Voice::hat || voice == Voice::cymbal ? 1.6 : 1.1));
    painter.setBrush(filled ? QBrush(ink) : QBrush(Qt::NoBrush));
    switch (voice) {
    case Voice::kick: painter.drawEllipse(c, r * 1.08, r * 0.86); break;
    case Voice::snare:
        painter.drawPolygon(QPolygonF({c + QPointF(0, -r), c + QPointF(r, 0), c + QPointF(0, r), c + QPointF(-r, 0)}));
        break;
    case Voice::tom:
        painter.drawPolygon(QPolygonF({c + QPointF(0, -r), c + QPointF(r, r * 0.8), c + QPointF(-r, r * 0.8)}));
        break;
    case Voice::hat:
    case Voice::cymbal:
        painter.drawLine(c + QPointF(-r, -r) * 0.85, c + QPointF(r, r) * 0.85);
        painter.drawLine(c + QPointF(-r, r) * 0.85, c + QPointF(r, -r) * 0.85);
        break;
    case Voice::other: painter.drawRect(QRectF(c - QPointF(r, r) * 0.6, QSizeF(size, size) * 0.6)); break;
    }
}

} // namespace lampo
