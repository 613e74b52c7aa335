#include "sheet/patch_painter.h"

#include "base/mic_set.h"

#include <algorithm>

namespace lampo {
namespace {

constexpr double narrowest = 2; ///< pixels

} // namespace

void paintPatches(QPainter& painter, const SheetState& state) {
    if (state.show == Show::asPlayed || state.raw)
        return;
    painter.setClipRect(state.layout.lanesArea);
    painter.setRenderHint(QPainter::Antialiasing);
    for (const PlannedPatch& patch : state.outcome->plan->patches) {
        if (static_cast<double>(patch.sounds.begin.frame) > state.axis.lastFrame())
            break;
        const double left = state.axis.toX(patch.sounds.begin), right = state.axis.toX(patch.sounds.end);
        if (right < 0)
            continue;
        const double in = state.axis.toX(patch.sounds.begin + patch.fadeIn),
                     out = state.axis.toX(patch.sounds.end - patch.fadeOut);
        for (MicIndex mic; mic < state.session->mics.size(); ++mic) {
            const QRect band = state.landedBand(mic);
            if (!(patch.mics & onlyMic(mic)) || band.isEmpty())
                continue;
            // A patch lies over the lane as a piece of cloth does: narrower where it fades.
            const double top = band.top() + 1.5, bottom = band.bottom() - 1.5, middle = (top + bottom) / 2;
            const QPolygonF cloth{QPointF(left, middle), QPointF(in, top),
                                  QPointF(out, top),     QPointF(std::max(right, left + narrowest), middle),
                                  QPointF(out, bottom),  QPointF(in, bottom)};
            QColor veil = state.ink.accent;
            veil.setAlphaF(patch.gain == 0 ? 0.30F : 0.12F);
            painter.setBrush(veil);
            painter.setPen(QPen(state.ink.accent, 1.2, Qt::DotLine));
            painter.drawPolygon(cloth);
        }
    }
    painter.setBrush(Qt::NoBrush);
    painter.setRenderHint(QPainter::Antialiasing, false);
    painter.setClipping(false);
}

void paintOnly(QPainter& painter, const SheetState& state) {
    if (state.only == 0)
        return;
    painter.setClipRect(state.layout.lanesArea);
    QStringList names;
    QColor veil = state.ink.paper;
    veil.setAlphaF(0.7F);
    for (MicIndex lane; lane < state.layout.lanes.size(); ++lane) {
        if (lane < state.session->mics.size() && (state.only & onlyMic(lane)))
            names << QString::fromStdString(state.session->mics[lane].shownName());
        else
            painter.fillRect(state.layout.lanes[lane], veil);
    }
    painter.setFont(textFont());
    const QString words = QObject::tr("%1 only").arg(names.join(QStringLiteral(", ")));
    QRect label = QFontMetrics(painter.font()).boundingRect(words).adjusted(-8, -3, 8, 3);
    label.moveTopRight(state.layout.lanesArea.topRight() + QPoint(-8, 8));
    painter.fillRect(label, state.ink.accent);
    painter.setPen(state.ink.paper);
    painter.drawText(label, Qt::AlignCenter, words);
    painter.setClipping(false);
}

} // namespace lampo
