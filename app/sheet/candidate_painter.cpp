#include "sheet/candidate_painter.h"

#include "look/noteheads.h"

#include <cmath>

namespace lampo {
namespace {

constexpr double headSize = 7;
/// Pixels a head needs to itself to be worth drawing.
constexpr double roomPerHead = 3;

class CandidatePainter {
public:
    CandidatePainter(QPainter& painter, const SheetState& state)
        : painter_(painter), state_(state), heads_(painter, headSize) {}

    void paintLane(MicIndex lane) {
        const Mic& mic = state_.session->mics[lane];
        const QColor ink = state_.ink.of(voiceOf(mic.role));
        paintHeads(lane, voiceOf(mic.role), ink);
        paintThreshold(lane, ink);
    }

    /// A drum that does not guide: its strokes are known, and nothing lands on them.
    void paintStrokes(MicIndex lane) {
        const Voice voice = voiceOf(state_.session->mics[lane].role);
        QColor faint = state_.ink.of(voice);
        faint.setAlphaF(0.45F);
        const auto strokes = state_.strokesBetween(lane, state_.axis.firstFrame(), state_.axis.lastFrame());
        if (static_cast<double>(strokes.size()) * roomPerHead > state_.axis.width())
            return;
        for (const auto& [at, level] : strokes)
            heads_.stamp({xOf(at), state_.levelY(lane, level)}, voice, faint, false);
    }

private:
    void paintHeads(MicIndex lane, Voice voice, const QColor& ink) {
        const double margin = headSize * state_.axis.framesPerPixel();
        const auto refs =
            state_.candidatesBetween(lane, state_.axis.firstFrame() - margin, state_.axis.lastFrame() + margin);
        const bool crowded = static_cast<double>(refs.size()) * roomPerHead > state_.axis.width();
        QColor faint = ink;
        faint.setAlphaF(0.45F);
        QPolygonF dots; // of hits, where heads would hide each other
        for (const SheetState::CandidateRef ref : refs) {
            const QPointF at(state_.axis.toX(state_.candidateAt(ref)),
                             state_.levelY(lane, state_.candidateOf(ref).level));
            const Verdict verdict = state_.judgedOf(ref).verdict;
            if (verdict == Verdict::hit && crowded)
                dots << at;
            else if (verdict == Verdict::hit)
                heads_.stamp(at, voice, ink);
            else if (!crowded)
                heads_.stamp(at, voice, faint, false);
            if (verdict == Verdict::bleed && !crowded) {
                painter_.setPen(QPen(state_.ink.faint, 1));
                painter_.drawLine(at + QPointF(-headSize * 0.7, headSize * 0.5),
                                  at + QPointF(headSize * 0.7, -headSize * 0.5));
            }
            if (state_.candidate == ref) {
                painter_.setPen(QPen(state_.ink.accent, 1.5));
                painter_.drawEllipse(at, headSize, headSize);
            }
        }
        drawDots(painter_, dots, 2, ink);
    }

    /// One level over the whole width, except where a section has its own.
    void paintThreshold(MicIndex lane, const QColor& ink) {
        const Session& session = *state_.session;
        const MusicalMap map(session.map, session.rate);
        const double width = state_.axis.width();
        double x = 0;
        const auto line = [&](double to, Decibels level) {
            if (to > x) {
                const double y = state_.levelY(lane, level);
                painter_.drawLine(QPointF(x, y), QPointF(to, y));
            }
            x = std::max(x, to);
        };
        painter_.setPen(QPen(ink, 1, Qt::DashLine));
        for (const Section& section : session.sections) {
            const SectionDetection* own = section.detectionOf(session.mics[lane].stem);
            if (!own || !own->threshold)
                continue;
            line(std::min(width, xOf(map.barStart(section.firstBar))), session.mics[lane].threshold);
            line(std::min(width, xOf(map.barStart(section.firstBar + section.bars))), *own->threshold);
        }
        line(width, session.mics[lane].threshold);
        paintLabel(lane, ink);
    }

    void paintLabel(MicIndex lane, const QColor& ink) {
        const Decibels level = state_.thresholdAt(lane, state_.axis.shown().begin);
        painter_.setFont(textFont(0.75));
        painter_.setPen(ink);
        const QString text = QObject::tr("−%1 dB").arg(-level.value, 0, 'f', 1);
        const QRectF box(4, std::max(state_.levelY(lane, level) - 13, state_.playedBand(lane).top() + 0.0), 60, 13);
        painter_.fillRect(QRectF(box.topLeft(), QSizeF(painter_.fontMetrics().horizontalAdvance(text), 12)),
                          state_.ink.paper);
        painter_.drawText(box, Qt::AlignLeft | Qt::AlignBottom, text);
    }

    double xOf(SongFrame at) const { return state_.axis.toX(at); }

    QPainter& painter_;
    const SheetState& state_;
    NoteheadStamps heads_;
};

} // namespace

void paintCandidates(QPainter& painter, const SheetState& state) {
    if (!state.showsCandidates && !state.allStrokes)
        return;
    painter.save();
    painter.setClipRect(state.layout.lanesArea);
    painter.setRenderHint(QPainter::Antialiasing);
    CandidatePainter candidates(painter, state);
    for (MicIndex lane; lane < state.session->mics.size(); ++lane)
        if (state.showsCandidatesOf(lane) && state.layout.lanes[lane].intersects(state.layout.lanesArea))
            candidates.paintLane(lane);
        else if (state.allStrokes && !state.session->mics[lane].guide && !state.playedBand(lane).isEmpty())
            candidates.paintStrokes(lane);
    painter.restore();
}

} // namespace lampo
