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

    void paintLane(std::size_t lane) {
        const Mic& mic = state_.session->mics[lane];
        const QColor ink = state_.ink.of(voiceOf(mic.role));
        paintHeads(lane, voiceOf(mic.role), ink);
        paintThreshold(lane, ink);
    }

private:
    void paintHeads(std::size_t lane, Voice voice, const QColor& ink) {
        const auto candidates = state_.candidatesOf(lane);
        const auto& judged = state_.outcome->found.judged[lane];
        const auto [first, last] = visible(candidates);
        const bool crowded = static_cast<double>(last - first) * roomPerHead > state_.axis.width();
        QColor faint = ink;
        faint.setAlphaF(0.45F);
        QPolygonF dots; // of hits, where heads would hide each other
        for (std::size_t c = first; c < last; ++c) {
            const QPointF at(state_.axis.toX(static_cast<double>(state_.candidateAt({lane, c}).frame)),
                             state_.levelY(lane, candidates[c].level));
            const Verdict verdict = judged[c].verdict;
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
            if (state_.candidate == SheetState::CandidateRef{lane, c}) {
                painter_.setPen(QPen(state_.ink.accent, 1.5));
                painter_.drawEllipse(at, headSize, headSize);
            }
        }
        drawDots(painter_, dots, 2, ink);
    }

    std::pair<std::size_t, std::size_t> visible(std::span<const Candidate> candidates) const {
        const double start = static_cast<double>(state_.session->take().start.frames);
        const auto index = [&](double frame) {
            return static_cast<std::size_t>(
                std::partition_point(
                    candidates.begin(), candidates.end(),
                    [&](const Candidate& c) { return static_cast<double>(c.at.frame) + start < frame; }) -
                candidates.begin());
        };
        const double margin = headSize * state_.axis.framesPerPixel();
        return {index(state_.axis.firstFrame() - margin), index(state_.axis.lastFrame() + margin)};
    }

    /// One level over the whole width, except where a section has its own.
    void paintThreshold(std::size_t lane, const QColor& ink) {
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
            const SectionListening* own = section.listeningOf(session.mics[lane].stem);
            if (!own || !own->threshold)
                continue;
            line(std::min(width, xOf(map.barStart(section.firstBar))), session.mics[lane].threshold);
            line(std::min(width, xOf(map.barStart(section.firstBar + section.bars))), *own->threshold);
        }
        line(width, session.mics[lane].threshold);
        paintLabel(lane, ink);
    }

    void paintLabel(std::size_t lane, const QColor& ink) {
        const Decibels level = state_.thresholdAt(lane, {static_cast<std::int64_t>(state_.axis.firstFrame())});
        painter_.setFont(textFont(0.75));
        painter_.setPen(ink);
        const QString text = QObject::tr("−%1 dB").arg(-level.value, 0, 'f', 1);
        const QRectF box(4, std::max(state_.levelY(lane, level) - 13, state_.playedBand(lane).top() + 0.0), 60, 13);
        painter_.fillRect(QRectF(box.topLeft(), QSizeF(painter_.fontMetrics().horizontalAdvance(text), 12)),
                          state_.ink.paper);
        painter_.drawText(box, Qt::AlignLeft | Qt::AlignBottom, text);
    }

    double xOf(SongFrame at) const { return state_.axis.toX(static_cast<double>(at.frame)); }

    QPainter& painter_;
    const SheetState& state_;
    NoteheadStamps heads_;
};

} // namespace

void paintCandidates(QPainter& painter, const SheetState& state) {
    if (!state.listening)
        return;
    painter.save();
    painter.setClipRect(state.layout.lanesArea);
    painter.setRenderHint(QPainter::Antialiasing);
    CandidatePainter candidates(painter, state);
    for (std::size_t lane = 0; lane < state.session->mics.size(); ++lane)
        if (state.listensTo(lane) && state.layout.lanes[lane].intersects(state.layout.lanesArea))
            candidates.paintLane(lane);
    painter.restore();
}

} // namespace lampo
