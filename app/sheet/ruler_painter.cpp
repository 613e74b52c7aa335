#include "sheet/ruler_painter.h"

#include "session/pieces.h"

namespace lampo {
namespace {

void paintSections(QPainter& painter, const SheetState& state, const MusicalMap& map) {
    const QRect area = state.layout.ruler;
    painter.setFont(textFont(0.9, true));
    for (const Section& section : state.session->sections) {
        const Range<SongFrame> range = rangeOf(section, map);
        const double left = state.axis.toX(range.begin);
        const double right = state.axis.toX(range.end);
        if (right < 0 || left > area.width())
            continue;
        painter.setPen(state.ink.text);
        const QRectF box(std::max(left, 0.0) + 5, area.top(), right - std::max(left, 0.0) - 8, area.height() / 2.0);
        painter.drawText(box, Qt::AlignLeft | Qt::AlignVCenter,
                         painter.fontMetrics().elidedText(QString::fromStdString(section.name), Qt::ElideRight,
                                                          static_cast<int>(box.width())));
        painter.drawLine(QPointF(left, area.top() + 2), QPointF(left, area.bottom()));
    }
}

void paintBars(QPainter& painter, const SheetState& state, const MusicalMap& map) {
    const QRect area = state.layout.ruler;
    painter.setFont(textFont(0.85));
    double free = -1;
    const int first = map.barAt({static_cast<std::int64_t>(state.axis.firstFrame())});
    for (int bar = first; map.barStart(bar).frame < static_cast<std::int64_t>(state.axis.lastFrame()); ++bar) {
        const double x = state.axis.toX(map.barStart(bar));
        painter.setPen(state.ink.barLine);
        painter.drawLine(QPointF(x, area.center().y() + 3), QPointF(x, area.bottom()));
        if (x < free)
            continue;
        const QString text = QString::number(bar);
        painter.setPen(state.ink.faint);
        painter.drawText(QPointF(x + 3, area.bottom() - 4), text);
        free = x + painter.fontMetrics().horizontalAdvance(text) + 12;
    }
}

/// Which take sounds, where there is more than one.
void paintRibbon(QPainter& painter, const SheetState& state) {
    const auto pieces = piecesOf(*state.session);
    if (pieces.size() < 2)
        return;
    const QRect area = state.layout.ruler;
    for (const Piece& piece : pieces) {
        const double left = std::max(0.0, state.axis.toX(piece.range.begin));
        const double right = std::min(area.width() + 0.0, state.axis.toX(piece.range.end));
        if (piece.take && right > left)
            painter.fillRect(QRectF(left, area.bottom() - 3, right - left, 3),
                             state.ink.ofTake(*state.session, *piece.take));
    }
}

} // namespace

void paintRuler(QPainter& painter, const SheetState& state) {
    const QRect area = state.layout.ruler;
    painter.save();
    painter.setClipRect(area);
    painter.fillRect(area, state.ink.paper);
    if (!state.loop.empty()) {
        const double left = state.axis.toX(state.loop.begin);
        const double right = state.axis.toX(state.loop.end);
        painter.fillRect(QRectF(left, area.center().y(), right - left, area.height() / 2.0), state.ink.pocket);
        painter.setPen(QPen(state.ink.accent, 2));
        painter.drawLine(QPointF(left, area.bottom() - 1), QPointF(right, area.bottom() - 1));
    }
    const MusicalMap map(state.session->map, state.session->rate);
    paintRibbon(painter, state);
    paintSections(painter, state, map);
    paintBars(painter, state, map);
    painter.setPen(state.ink.rule);
    painter.drawLine(area.bottomLeft(), area.bottomRight());
    painter.restore();
}

} // namespace lampo
