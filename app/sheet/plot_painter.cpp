#include "sheet/plot_painter.h"

#include "look/noteheads.h"

#include <cmath>
#include <map>

namespace lampo {
namespace {

/// Bar by bar: each has the pocket of its section.
void paintPocket(QPainter& painter, const SheetState& state, double half) {
    const QRect area = state.layout.plot;
    const MusicalMap map(state.session->map, state.session->rate);
    const int last = map.barAt({static_cast<std::int64_t>(state.axis.lastFrame())});
    for (int bar = map.barAt({static_cast<std::int64_t>(state.axis.firstFrame())}); bar <= last; ++bar) {
        const double near = half * std::min(1.0, state.session->timingOf(bar).pocket.value / state.plotReach);
        const double left = state.axis.toX(static_cast<double>(map.barStart(bar).frame));
        const double right = state.axis.toX(static_cast<double>(map.barStart(bar + 1).frame));
        if (near > 0)
            painter.fillRect(QRectF(left, area.center().y() - near, right - left, 2 * near), state.ink.pocket);
    }
}

void paintScale(QPainter& painter, const SheetState& state) {
    const QRect area = state.layout.plot;
    const double half = area.height() / 2.0 - 8;
    const double reach = state.plotReach;
    painter.fillRect(area, state.ink.paper);
    paintPocket(painter, state, half);
    painter.setPen(state.ink.rule);
    painter.drawLine(area.topLeft(), area.topRight());
    for (const double part : {-1.0, -0.5, 0.5, 1.0})
        painter.drawLine(QPointF(area.left(), area.center().y() + part * half),
                         QPointF(area.right(), area.center().y() + part * half));
    painter.setPen(state.ink.barLine);
    painter.drawLine(area.left(), area.center().y(), area.right(), area.center().y());

    painter.setFont(textFont(0.8));
    painter.setPen(state.ink.faint);
    const QString figure = QString::number(reach);
    painter.drawText(area.adjusted(4, 1, 0, 0), Qt::AlignLeft | Qt::AlignTop,
                     QObject::tr("early %1 ms").arg(figure));
    painter.drawText(area.adjusted(4, 0, 0, -1), Qt::AlignLeft | Qt::AlignBottom,
                     QObject::tr("late %1 ms").arg(figure));
}

} // namespace

void paintPlot(QPainter& painter, const SheetState& state) {
    painter.save();
    painter.setClipRect(state.layout.plot);
    paintScale(painter, state);
    painter.setRenderHint(QPainter::Antialiasing);
    const auto [first, last] = state.visibleHits();
    const double size = std::round(
        std::clamp(state.axis.width() / std::max(1.0, static_cast<double>(last - first)) * 1.2, 5.0, 10.0));
    NoteheadStamps heads(painter, size);
    const bool crowded =
        state.axis.width() < 0.7 * static_cast<double>(last - first); // heads would hide each other
    std::map<Voice, QPolygonF> dots;
    for (std::size_t i = first; i < last; ++i) {
        if (!state.latenessOf(i, true))
            continue;
        const Voice voice = state.outcome->hits[i].voice;
        const QColor ink = state.isSelected(i) ? state.ink.accent : state.ink.of(voice);
        const QPointF played = state.plotPoint(i, false);
        const QPointF landed = state.plotPoint(i, true);
        if (crowded && !state.isSelected(i)) {
            dots[voice] << (state.show == Show::asPlayed ? played : landed);
            continue;
        }
        if (state.show == Show::both) {
            painter.setPen(QPen(state.ink.rule, 1));
            painter.drawLine(played, landed);
        }
        if (state.show != Show::asLanded)
            heads.stamp(played, voice, ink, state.show == Show::asPlayed);
        if (state.show != Show::asPlayed)
            heads.stamp(landed, voice, ink);
    }
    for (const auto& [voice, points] : dots)
        drawDots(painter, points, 2, state.ink.of(voice));
    painter.restore();
}

} // namespace lampo
