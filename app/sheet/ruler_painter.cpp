#include "sheet/ruler_painter.h"

#include "session/pieces.h"

#include <cmath>

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
    const Range<SongFrame> shown = state.axis.shown();
    for (int bar = map.barAt(shown.begin); map.barStart(bar) < shown.end; ++bar) {
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

/// Nearer than a bar its beats are counted, "13.2", and nearer than a beat the milliseconds behind it, "+20 ms".
class FineRuler {
public:
    FineRuler(QPainter& painter, const SheetState& state, const MusicalMap& map)
        : painter_(painter), state_(state), map_(map), perMs_(static_cast<double>(state.session->rate.hz) / 1000) {
        painter_.setFont(textFont(0.8));
    }

    void paint() {
        const Range<SongFrame> shown = state_.axis.shown();
        for (int bar = map_.barAt(shown.begin); map_.barStart(bar) < shown.end; ++bar)
            for (int beat = 1; beat <= map_.meterOf(bar).beats; ++beat)
                paintBeat(bar, beat);
    }

private:
    void paintBeat(int bar, int beat) {
        const SongFrame at = map_.at({bar, static_cast<double>(beat)});
        const SongFrame next = beat < map_.meterOf(bar).beats ? map_.at({bar, beat + 1.0}) : map_.barStart(bar + 1);
        const double left = state_.axis.toX(at), right = state_.axis.toX(next);
        if (right - left < narrowestBeat || right < 0 || left > state_.axis.width())
            return;
        if (beat > 1)
            mark(left, QStringLiteral("%1.%2").arg(bar).arg(beat));
        paintMilliseconds(left, right);
    }

    void paintMilliseconds(double left, double right) {
        const double perPixel = state_.axis.framesPerPixel();
        for (const int step : {1, 2, 5, 10, 20, 50, 100}) {
            const double apart = step * perMs_ / perPixel;
            if (apart < narrowestMark)
                continue;
            const auto first = static_cast<int>(std::max(1.0, std::floor(-left / apart)));
            for (int i = first; left + i * apart < std::min(right - narrowestMark, state_.axis.width() + 0.0); ++i)
                mark(left + i * apart, QObject::tr("+%1 ms").arg(i * step));
            return;
        }
    }

    void mark(double x, const QString& text) {
        const QRect area = state_.layout.ruler;
        painter_.setPen(state_.ink.rule);
        painter_.drawLine(QPointF(x, area.center().y() + 6), QPointF(x, area.bottom()));
        painter_.setPen(state_.ink.faint);
        painter_.drawText(QPointF(x + 3, area.bottom() - 4), text);
    }

    static constexpr double narrowestBeat = 56; ///< pixels
    static constexpr double narrowestMark = 72;

    QPainter& painter_;
    const SheetState& state_;
    const MusicalMap& map_;
    double perMs_; ///< frames
};

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
    FineRuler(painter, state, map).paint();
    painter.setPen(state.ink.rule);
    painter.drawLine(area.bottomLeft(), area.bottomRight());
    painter.restore();
}

} // namespace lampo
