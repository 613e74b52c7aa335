#include "sheet/seam_painter.h"

#include "look/number.h"
#include "seams/curve.h"
#include "sheet/sheet_words.h"

#include <algorithm>
#include <cmath>

namespace lampo {
namespace {

constexpr double narrowest = 3; ///< pixels of a seam that is drawn
// Pixels of the threads under a stretched tail:
constexpr double threadsApart = 6; ///< were it not stretched
constexpr double threadLength = 5;

class SeamPainter {
public:
    SeamPainter(QPainter& painter, const SheetState& state) : painter_(painter), state_(state) {
        for (MicIndex lane; lane < state.session->mics.size(); ++lane)
            if (const QRect band = state.landedBand(lane);
                !band.isEmpty() && band.intersects(state.layout.lanesArea))
                bands_.push_back(band);
        font_ = textFont(0.75);
    }

    void paint() {
        painter_.setClipRect(state_.layout.lanesArea);
        painter_.setRenderHint(QPainter::Antialiasing);
        const auto& seams = state_.outcome->plan->seams;
        const Range<ResultFrame> shown{asResult(state_.axis.shown().begin), asResult(state_.axis.shown().end)};
        const auto first = std::partition_point(seams.begin(), seams.end(),
                                                [&](const Seam& seam) { return seam.range.end < shown.begin; });
        for (auto seam = first; seam != seams.end() && seam->range.begin < shown.end; ++seam)
            if (static_cast<double>(seam->range.length().frames) >= narrowest * state_.axis.framesPerPixel())
                paintSeam(*seam, {static_cast<std::size_t>(seam - seams.begin())});
        painter_.setRenderHint(QPainter::Antialiasing, false);
        painter_.setClipping(false);
    }

private:
    double xOf(ResultFrame at) const { return state_.axis.toX(at); }

    void paintSeam(const Seam& seam, SeamIndex index) {
        const Segment* later = beginningAt(seam.range.begin);
        const bool chosen = std::binary_search(state_.seams.begin(), state_.seams.end(), index);
        for (const QRect& band : bands_) {
            if (later && later->stretch)
                paintStretched(*later, band);
            else if (later)
                paintBorrowed(seam, *later, band);
            paintFades(seam, later, band, chosen);
        }
        if (!bands_.empty())
            paintWords(seam, bands_.front(), chosen);
    }

    const Segment* beginningAt(ResultFrame at) const {
        const auto& segments = state_.outcome->plan->segments;
        const auto found = std::partition_point(segments.begin(), segments.end(),
                                                [&](const Segment& segment) { return segment.sounds.begin < at; });
        return found != segments.end() && found->sounds.begin == at ? &*found : nullptr;
    }

    /// From the seam on the later slice sounds with what came before it in the source: as much as the hole was
    /// wide.
    void paintBorrowed(const Seam& seam, const Segment& later, const QRect& band) {
        if ((seam.kind != SeamKind::borrowed && seam.kind != SeamKind::repeated) ||
            &later == state_.outcome->plan->segments.data())
            return;
        const FrameCount hole = later.shift - (&later - 1)->shift;
        const QRectF borrowed(QPointF(xOf(seam.range.begin), band.top() + 1),
                              QPointF(xOf(seam.range.begin + hole), band.bottom() - 1));
        QColor ink = state_.ink.faint;
        ink.setAlphaF(0.5F);
        painter_.fillRect(borrowed, QBrush(ink, Qt::BDiagPattern));
    }

    /// The tail that was lengthened, as threads drawn apart: the farther, the more it is stretched.
    void paintStretched(const Segment& segment, const QRect& band) {
        const Stretch& stretch = *segment.stretch;
        QColor ink = stretch.ratio() > state_.session->seams.mostStretch ? state_.ink.alarm : state_.ink.faint;
        ink.setAlphaF(0.6F);
        painter_.setPen(QPen(ink, 1));
        const double left = xOf(stretch.over.begin), right = xOf(segment.sounds.end);
        const double apart = threadsApart * stretch.ratio();
        for (double x = left + apart; x < right; x += apart)
            painter_.drawLine(QPointF(x, band.bottom() - threadLength), QPointF(x, band.bottom() - 1));
        if (band == bands_.front())
            paintRatio(stretch, QRectF(QPointF(left, band.top()), QPointF(right, band.bottom())));
    }

    /// In its middle, where it fits.
    void paintRatio(const Stretch& stretch, const QRectF& part) {
        const QString words = QObject::tr("× %1").arg(number(stretch.ratio(), 2));
        painter_.setFont(font_);
        QRectF box = QFontMetricsF(font_).boundingRect(words).adjusted(-3, 0, 3, 0);
        box.moveCenter(part.center());
        box.moveTop(std::max(static_cast<int>(part.top()), state_.layout.lanesArea.top()) + 2.0);
        if (2 * box.width() > part.width())
            return;
        painter_.fillRect(box, state_.ink.paper);
        painter_.setPen(stretch.ratio() > state_.session->seams.mostStretch ? state_.ink.alarm : state_.ink.text);
        painter_.drawText(box, Qt::AlignCenter, words);
    }

    void paintFades(const Seam& seam, const Segment* later, const QRect& band, bool chosen) {
        const double left = xOf(seam.range.begin), right = xOf(seam.range.end);
        const FadeCurve curve = later ? later->curve : FadeCurve::matched;
        const double likeness = later ? later->likeness.value_or(0.0F) : 0;
        QPolygonF out, in;
        const int steps = std::clamp(static_cast<int>(right - left), 4, 60);
        for (int i = 0; i <= steps; ++i) {
            const double along = static_cast<double>(i) / steps;
            const FadeGains gains = fadeGains(curve, along, likeness);
            const double x = left + along * (right - left);
            const double height = band.height() - 4;
            out << QPointF(x, band.bottom() - 2 - height * std::min(1.0F, gains.out));
            in << QPointF(x, band.bottom() - 2 - height * std::min(1.0F, gains.in));
        }
        QColor veil = chosen ? state_.ink.accent : state_.ink.margin;
        veil.setAlphaF(chosen ? 0.18F : 0.6F);
        painter_.fillRect(QRectF(QPointF(left, band.top() + 1), QPointF(right, band.bottom() - 1)), veil);
        if (seam.kind != SeamKind::opened) {
            painter_.setPen(QPen(state_.ink.text, 1.2, Qt::DashLine));
            painter_.drawPolyline(out);
        }
        if (seam.kind != SeamKind::closed) {
            painter_.setPen(QPen(chosen ? state_.ink.accent : state_.ink.text, 1.6));
            painter_.drawPolyline(in);
        }
        if (chosen) {
            painter_.setPen(QPen(state_.ink.accent, 1.5));
            painter_.drawLine(QPointF(left, band.top() + 1), QPointF(left, band.bottom() - 1));
            painter_.drawLine(QPointF(right, band.top() + 1), QPointF(right, band.bottom() - 1));
        }
    }

    /// Over the first lane, where they fit between the seam and its attack.
    void paintWords(const Seam& seam, const QRect& band, bool chosen) {
        QString words = QObject::tr("%1 ms, by %2")
                            .arg(number(toMilliseconds(seam.range.length(), state_.session->rate).value, 1))
                            .arg(wordsFor(seam.by));
        if (seam.kind != SeamKind::crossfade && seam.kind != SeamKind::border)
            words.prepend(wordsFor(seam, state_.session->rate) + QStringLiteral(", "));
        painter_.setFont(font_);
        const QRect box = QFontMetrics(font_).boundingRect(words).adjusted(-3, 0, 3, 0);
        const double room =
            static_cast<double>((seam.range.length() + seam.ahead).frames) / state_.axis.framesPerPixel();
        if (!chosen && box.width() > room)
            return;
        const double farthest = state_.layout.lanesArea.right() - box.width();
        const QRectF place(std::min(xOf(seam.range.end) + 4, farthest),
                           std::max(band.top(), state_.layout.lanesArea.top()) + 2, box.width(), box.height());
        painter_.fillRect(place, state_.ink.paper);
        painter_.setPen(chosen ? state_.ink.accent : state_.ink.text);
        painter_.drawText(place, Qt::AlignCenter, words);
    }

    QPainter& painter_;
    const SheetState& state_;
    QFont font_;
    std::vector<QRect> bands_; ///< of mics, as landed
};

} // namespace

void paintSeams(QPainter& painter, const SheetState& state) {
    if (state.show != Show::asPlayed && !state.raw)
        SeamPainter(painter, state).paint();
}

} // namespace lampo
