#include "look/noteheads.h"

#include <QPolygonF>

#include <cmath>
#include <utility>

namespace lampo {

void drawNotehead(QPainter& painter, QPointF c, double size, const Notehead& head) {
    const auto& [voice, ink, filled] = head;
    const double r = size / 2;
    painter.setPen(QPen(ink, voice == Voice::hat || voice == Voice::cymbal ? 1.6 : 1.1));
    painter.setBrush(filled ? QBrush(ink) : QBrush(Qt::NoBrush));
    switch (voice) {
    case Voice::kick:
        painter.drawEllipse(c, r * 1.08, r * 0.86);
        break;
    case Voice::snare:
        painter.drawPolygon(
            QPolygonF({c + QPointF(0, -r), c + QPointF(r, 0), c + QPointF(0, r), c + QPointF(-r, 0)}));
        break;
    case Voice::tom:
        painter.drawPolygon(QPolygonF({c + QPointF(0, -r), c + QPointF(r, r * 0.8), c + QPointF(-r, r * 0.8)}));
        break;
    case Voice::hat:
    case Voice::cymbal:
        painter.drawLine(c + QPointF(-r, -r) * 0.85, c + QPointF(r, r) * 0.85);
        painter.drawLine(c + QPointF(-r, r) * 0.85, c + QPointF(r, -r) * 0.85);
        break;
    case Voice::other:
        painter.drawRect(QRectF(c - QPointF(r, r) * 0.6, QSizeF(size, size) * 0.6));
        break;
    }
}

void drawDots(QPainter& painter, const QPolygonF& centres, int size, const QColor& ink) {
    QList<QRect> squares;
    squares.reserve(centres.size());
    QRect last;
    for (const QPointF& centre : centres) {
        const QRect square(centre.toPoint() - QPoint(size / 2, size / 2), QSize(size, size));
        if (std::exchange(last, square) != square)
            squares << square;
    }
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing, false);
    painter.setPen(Qt::NoPen);
    painter.setBrush(ink);
    painter.drawRects(squares);
    painter.restore();
}

NoteheadStamps::NoteheadStamps(QPainter& painter, double size)
    : painter_(painter), size_(size), side_(static_cast<int>(std::ceil(size)) + 4) {}

void NoteheadStamps::stamp(QPointF centre, Voice voice, const QColor& ink, bool filled) {
    QPixmap& stamp = stamps_[quint64{ink.rgb()} << 8U | static_cast<quint64>(voice) << 1U | (filled ? 1U : 0U)];
    if (stamp.isNull()) {
        const double ratio = painter_.device()->devicePixelRatioF();
        stamp = QPixmap(QSize(side_, side_) * ratio);
        stamp.setDevicePixelRatio(ratio);
        stamp.fill(Qt::transparent);
        QPainter drawing(&stamp);
        drawing.setRenderHint(QPainter::Antialiasing);
        drawNotehead(drawing, {side_ / 2.0, side_ / 2.0}, size_, {voice, ink, filled});
    }
    painter_.drawPixmap(QPoint(static_cast<int>(std::lround(centre.x() - side_ / 2.0)),
                               static_cast<int>(std::lround(centre.y() - side_ / 2.0))),
                        stamp);
}

} // namespace lampo
