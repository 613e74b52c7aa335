#include "sheet/ladder_painter.h"

#include "advice/hit_edits.h"
#include "look/noteheads.h"

#include <QPainterPath>

#include <cmath>
#include <map>
#include <utility>

namespace lampo {

namespace {

/// A slur from the first landed hit of a phrase to the last, as phrases are written in scores.
void paintPhrases(QPainter& painter, const SheetState& state, HitIndex first, HitIndex last) {
    const int y = state.layout.ladderLandedY();
    painter.setPen(QPen(state.ink.text, 1.4));
    painter.setBrush(Qt::NoBrush);
    for (HitIndex i = first; i < last;) {
        const auto phrase = phraseAt(*state.session, *state.outcome, i);
        HitIndex end{i + 1};
        while (phrase && end < state.outcome->hits.size() &&
               phraseAt(*state.session, *state.outcome, end) == phrase)
            ++end;
        if (phrase) {
            const double left = state.axis.toX(state.landingOf(i));
            const double right = state.axis.toX(state.landingOf({end - 1}));
            const double high = std::min(14.0, 4 + (right - left) / 12);
            QPainterPath slur(QPointF(left, y + 7));
            slur.cubicTo(QPointF(left + (right - left) / 4, y + 7 + high),
                         QPointF(right - (right - left) / 4, y + 7 + high), QPointF(right, y + 7));
            painter.drawPath(slur);
        }
        i = end;
    }
}

} // namespace

void paintLadder(QPainter& painter, const SheetState& state) {
    const QRect area = state.layout.ladder;
    painter.save();
    painter.setClipRect(area);
    painter.fillRect(area, state.ink.paper);
    const int playedY = state.layout.ladderPlayedY();
    const int landedY = state.layout.ladderLandedY();
    painter.setPen(state.ink.rule);
    painter.drawLine(area.left(), playedY, area.right(), playedY);
    painter.drawLine(area.left(), landedY, area.right(), landedY);

    const auto [first, last] = state.visibleHits();
    const double pixelsPerHit = state.axis.width() / std::max(1.0, static_cast<double>(last - first));
    const double size = std::round(std::clamp(pixelsPerHit * 1.4, 5.0, area.height() / 7.5));
    NoteheadStamps heads(painter, size);
    painter.setRenderHint(QPainter::Antialiasing, pixelsPerHit > 1); // nearer together they are a texture
    const bool crowded = pixelsPerHit < 0.7;                         // heads would hide each other
    std::map<Voice, QPolygonF> dots;
    std::map<Voice, QPoint> drawn; // where the last of each voice stands, in whole pixels
    for (HitIndex i = first; i < last; ++i) {
        const Hit& hit = state.outcome->hits[i];
        const Landing& landing = state.outcome->landings[i];
        const QPointF played(state.axis.toX(state.playedAt(i)), playedY);
        const QPointF landed(state.axis.toX(state.landingOf(i)), landedY);
        const bool selected = state.isSelected(i);
        const QPoint pixels(static_cast<int>(played.x()), static_cast<int>(landed.x()));
        if (crowded && !selected && std::exchange(drawn[hit.voice], pixels) == pixels)
            continue;
        const QColor ink = state.isStopped(i) ? state.ink.alarm
                           : selected         ? state.ink.accent
                                              : state.ink.of(hit.voice);
        painter.setPen(QPen(ink, selected ? 2.0 : 1.0,
                            landing.state == LandingState::doubtful ? Qt::DashLine : Qt::SolidLine));
        painter.drawLine(played, landed);
        if (crowded && !selected) {
            dots[hit.voice] << played << landed;
            continue;
        }
        heads.stamp(played, hit.voice, ink);
        heads.stamp(landed, hit.voice, ink, landing.state != LandingState::left);
        if (landing.state == LandingState::pinned) {
            painter.setPen(QPen(ink, 1.4));
            painter.drawLine(landed + QPointF(-size * 0.7, size), landed + QPointF(size * 0.7, size));
        }
    }
    paintPhrases(painter, state, first, last);
    for (const auto& [voice, points] : dots)
        drawDots(painter, points, 3, state.ink.of(voice));
    painter.restore();
}

} // namespace lampo
