#include "sheet/level_painter.h"

#include "advice/patch_advice.h"
#include "look/noteheads.h"
#include "look/number.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace lampo {
namespace {

void paintScale(QPainter& painter, const SheetState& state) {
    const QRect area = state.layout.plot;
    painter.fillRect(area, state.ink.paper);
    painter.setPen(state.ink.rule);
    painter.drawLine(area.topLeft(), area.topRight());
    painter.setFont(textFont(0.8));
    for (const double decibels : {12.0, 0.0, -12.0, -24.0, -36.0}) {
        const double y = state.plotLevelY(decibels);
        painter.setPen(decibels == 0 ? state.ink.barLine : state.ink.rule);
        painter.drawLine(QPointF(area.left(), y), QPointF(area.right(), y));
        if (decibels != 12 && decibels != -36) {
            painter.setPen(state.ink.faint);
            painter.drawText(QPointF(area.left() + 4, y - 2), QObject::tr("%1 dB").arg(number(decibels, 0)));
        }
    }
}

/// What levelling would bring the chosen strokes to.
void paintMedians(QPainter& painter, const SheetState& state) {
    if (state.selection.size() < 2 || state.plottedSample())
        return;
    std::set<std::pair<Voice, double>> targets;
    for (const auto& [hit, level] : levelTargets(*state.session, *state.outcome, state.selection))
        targets.emplace(state.outcome->hits[hit].voice, level);
    for (const auto& [voice, level] : targets) {
        const double y = state.plotLevelY(level);
        painter.setPen(QPen(state.ink.of(voice), 1, Qt::DashLine));
        painter.drawLine(QPointF(state.layout.plot.left(), y), QPointF(state.layout.plot.right(), y));
    }
}

bool isLeftOut(const SheetState& state, const DrumSample& sample, HitIndex hit) {
    const SampleHit* said =
        saidAbout(sample, placeOf(*state.session, state.outcome->hits[hit]), state.session->rate);
    return said && said->out;
}

} // namespace

void paintLevels(QPainter& painter, const SheetState& state) {
    painter.save();
    painter.setClipRect(state.layout.plot);
    paintScale(painter, state);
    painter.setRenderHint(QPainter::Antialiasing);
    paintMedians(painter, state);
    const DrumSample* sample = state.plottedSample();
    const auto mic = sample ? state.session->micNamed(sample->mic) : std::nullopt;
    const auto [first, last] = state.visibleHits();
    NoteheadStamps heads(painter, state.plotHeadSize());
    for (HitIndex hit = first; hit < last; ++hit) {
        const auto level = state.strokeLevel(hit, true);
        if (!level)
            continue;
        const Voice voice = sample ? voiceOf(state.session->mics[*mic].role) : state.outcome->hits[hit].voice;
        const QColor ink = state.isSelected(hit) ? state.ink.accent : state.ink.of(voice);
        const QPointF recorded = state.plotPoint(hit, false), now = state.plotPoint(hit, true);
        if (std::abs(recorded.y() - now.y()) > 1) {
            painter.setPen(QPen(ink, 1));
            painter.drawLine(recorded, now);
            heads.stamp(recorded, voice, ink, false);
        }
        heads.stamp(now, voice, ink, !(sample && isLeftOut(state, *sample, hit)));
    }
    painter.restore();
}

} // namespace lampo
