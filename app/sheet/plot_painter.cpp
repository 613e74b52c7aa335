#include "sheet/plot_painter.h"

#include "look/noteheads.h"

#include <cmath>
#include <map>

namespace lampo {
namespace {

/// The lines that hits can mean, where feel or a companion bend them, on the scale of the plot; thin enough to be
/// told apart. The pocket lies around them.
void paintLines(QPainter& painter, const SheetState& state) {
    const Session& session = *state.session;
    const MusicalMap map(session.map, session.rate);
    const bool bent = session.usesFeel() || session.companionLines;
    if (!bent && session.timing.pocket.value == 0 && session.sections.empty())
        return;
    const auto lines = targetLines(session, map, state.axis.shown(), *state.outcome->attacks);
    QPolygonF places;
    for (std::size_t i = 0; i < lines.size(); ++i) {
        const double left = state.axis.toX(lines[i].frame);
        const double right = state.axis.toX(i + 1 < lines.size() ? static_cast<double>(lines[i + 1].frame.frame)
                                                                 : state.axis.lastFrame());
        const double late = toMilliseconds(lines[i].bent, session.rate).value;
        const double pocket = session.timingAt(lines[i].place).pocket.value;
        if (pocket > 0) {
            const double top = state.plotY(late - pocket), bottom = state.plotY(late + pocket);
            painter.fillRect(QRectF(left, top, right - left, bottom - top), state.ink.pocket);
        }
        places << QPointF(left, state.plotY(late));
    }
    if (!bent)
        return;
    painter.setPen(QPen(state.ink.text, 1));
    painter.drawPolyline(places);
    const double width =
        places.size() > 1 ? (places.back().x() - places.front().x()) / static_cast<double>(places.size() - 1) : 100;
    if (width > 8)
        for (const QPointF& place : places)
            painter.drawLine(place - QPointF(3, 0), place + QPointF(3, 0));
}

void paintScale(QPainter& painter, const SheetState& state) {
    const QRect area = state.layout.plot;
    const double half = area.height() / 2.0 - 8;
    const double reach = state.plotReach;
    painter.fillRect(area, state.ink.paper);
    paintLines(painter, state);
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
    NoteheadStamps heads(painter, state.plotHeadSize());
    const bool crowded =
        state.axis.width() < 0.7 * static_cast<double>(last - first); // heads would hide each other
    std::map<Voice, QPolygonF> dots;
    for (HitIndex i = first; i < last; ++i) {
        if (!state.latenessOf(i, true))
            continue;
        const Voice voice = state.outcome->hits[i].voice;
        const QColor ink = state.isStopped(i)    ? state.ink.alarm
                           : state.isSelected(i) ? state.ink.accent
                                                 : state.ink.of(voice);
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
