#include "sheet/lane_painter.h"

#include "base/parallel.h"
#include "map/grid.h"

#include <QPainter>

#include <algorithm>
#include <array>
#include <cmath>
#include <utility>

namespace lampo {
namespace {

/// A part of a lane that shows one moment.
struct Band {
    QRect rect;
    bool landed;
};

class Canvas {
public:
    Canvas(QImage& image, QRect clip)
        : first_(reinterpret_cast<QRgb*>(image.bits())),
          stride_(image.bytesPerLine() / static_cast<qsizetype>(sizeof(QRgb))),
          clip_(clip.intersected(image.rect())) {}

    void column(int x, int top, int bottom, QRgb colour) {
        if (x < clip_.left() || x > clip_.right())
            return;
        const int first = std::max(top, clip_.top());
        QRgb* pixel = first_ + static_cast<std::ptrdiff_t>(first) * stride_ + x;
        for (int count = std::min(bottom, clip_.bottom()) - first; count >= 0; --count, pixel += stride_)
            *pixel = colour;
    }
    /// Colours what is still bare paper.
    void tint(const QRect& rect, QRgb paper, QRgb colour) {
        const QRect part = rect.intersected(clip_);
        for (int y = part.top(); y <= part.bottom(); ++y)
            for (int x = part.left(); x <= part.right(); ++x)
                if (QRgb& pixel = first_[y * stride_ + x]; pixel == paper)
                    pixel = colour;
    }
    void fill(const QRect& rect, QRgb colour) {
        const QRect part = rect.intersected(clip_);
        for (int y = part.top(); y <= part.bottom(); ++y)
            std::fill_n(first_ + y * stride_ + part.left(), std::max(0, part.width()), colour);
    }

private:
    QRgb* first_;
    qsizetype stride_; ///< pixels from a row to the next
    QRect clip_;
};

QColor mixed(const QColor& ink, const QColor& paper, double share) {
    const auto mix = [=](int a, int b) { return static_cast<int>(a * share + b * (1 - share)); };
    return {mix(ink.red(), paper.red()), mix(ink.green(), paper.green()), mix(ink.blue(), paper.blue())};
}

std::vector<Band> bandsOf(const QRect& lane, Show show) {
    if (show != Show::both)
        return {{lane, show == Show::asLanded}};
    const int half = lane.height() / 2;
    return {{QRect(lane.left(), lane.top(), lane.width(), half), false},
            {QRect(lane.left(), lane.top() + half, lane.width(), lane.height() - half), true}};
}

class LanePainter {
public:
    LanePainter(QImage& image, const SheetState& state, Document& document)
        : state_(state), document_(document), canvas_(image, state.layout.lanesArea) {
        for (std::size_t lane = 0; lane < state.session->mics.size(); ++lane)
            for (const Band& band : bandsOf(state.layout.lanes[lane], state.show))
                (band.landed ? landedBands_ : playedBands_).push_back(band.rect);
    }

    void paint() {
        canvas_.fill(state_.layout.lanesArea, state_.ink.paper.rgb());
        paintGrid();
        paintLeadIns();
        const bool dense = cutsAreDense();
        if (dense)
            paintCuts(0.22);
        // Lanes do not touch each other's pixels, so every core paints some.
        forEachIndex(state_.layout.lanes.size(), [this](std::size_t lane) { paintLane(lane); });
        if (!dense)
            paintCuts(1);
    }

private:
    bool isCompanion(std::size_t lane) const { return lane >= state_.session->mics.size(); }

    void paintGrid() {
        const MusicalMap map(state_.session->map, state_.session->rate);
        const Range<SongFrame> shown{{static_cast<std::int64_t>(state_.axis.firstFrame())},
                                     {static_cast<std::int64_t>(state_.axis.lastFrame()) + 1}};
        const auto lines = gridLines(map, shown, [&](int bar) { return state_.session->gridOf(bar); });
        for (const GridLine& line : lines) {
            const double stepPixels = static_cast<double>(line.step.frames) / state_.axis.framesPerPixel();
            if (line.weight != LineWeight::bar && stepPixels < (line.weight == LineWeight::beat ? 2 : 7))
                continue;
            const QColor colour = line.weight == LineWeight::bar    ? state_.ink.barLine
                                  : line.weight == LineWeight::beat ? state_.ink.rule
                                                                    : state_.ink.pocket;
            canvas_.column(static_cast<int>(std::lround(state_.axis.toX(static_cast<double>(line.frame.frame)))),
                           state_.layout.lanesArea.top(), state_.layout.lanesArea.bottom(), colour.rgb());
        }
    }

    void paintLane(std::size_t lane) {
        const QRect rect = state_.layout.lanes[lane];
        if (!rect.intersects(state_.layout.lanesArea))
            return;
        canvas_.fill(QRect(rect.left(), rect.bottom(), rect.width(), 1), state_.ink.rule.rgb());
        const auto& session = *state_.session;
        const auto& file =
            isCompanion(lane) ? session.companions[lane - session.mics.size()].file : session.take().files[lane];
        WaveSource* wave = document_.wave(file);
        if (!wave)
            return;
        const bool guide = !isCompanion(lane) && session.mics[lane].guide;
        const QColor ink = guide ? state_.ink.of(voiceOf(session.mics[lane].role)) : state_.ink.wave;
        if (isCompanion(lane))
            return paintWave(*wave, {rect, false}, ink, true);
        for (const Band& band : bandsOf(rect, state_.show))
            paintWave(*wave, band, ink, false);
    }

    /// One column per pixel; the source range of a column is that of the segment that sounds in its middle.
    void paintWave(WaveSource& wave, const Band& band, const QColor& ink, bool companion) {
        const FrameCount start = companion ? FrameCount{} : state_.session->take().start;
        const double perPixel = state_.axis.framesPerPixel();
        wave.prepare(widestRange(), perPixel);
        const float scale = static_cast<float>(band.rect.height()) * 0.47F / std::max(wave.loudest(), 1e-4F);
        const int middle = band.rect.center().y();
        const auto& segments = state_.outcome->plan->segments;
        auto segment = segments.begin();
        const bool byPlan = band.landed && !companion;
        const QRgb colour = ink.rgb();
        for (int x = 0; x < band.rect.width(); ++x) {
            const double begin = state_.axis.toFrame(x);
            FrameCount shift = start;
            if (byPlan) {
                const auto centre = static_cast<std::int64_t>(begin + perPixel / 2);
                while (segment != segments.end() && segment->sounds.end.frame <= centre)
                    ++segment;
                if (segment == segments.end() || segment->sounds.begin.frame > centre)
                    continue; // an open hole, or behind the end
                shift = segment->shift;
            }
            const auto first = static_cast<std::int64_t>(begin) - shift.frames; // begin is never negative
            const auto last = std::max(first + 1, static_cast<std::int64_t>(begin + perPixel) + 1 - shift.frames);
            const Extent extent = wave.extent({{first}, {last}});
            canvas_.column(x, middle - static_cast<int>(extent.high * scale),
                           middle - static_cast<int>(extent.low * scale), colour);
        }
    }

    /// What the visible columns may show of the source: moves go both ways.
    Range<SourceFrame> widestRange() const {
        std::int64_t farthest = 0;
        for (const Segment& segment : state_.outcome->plan->segments)
            farthest = std::max(farthest, std::abs(segment.shift.frames));
        return {{static_cast<std::int64_t>(state_.axis.firstFrame()) - farthest},
                {static_cast<std::int64_t>(state_.axis.lastFrame()) + farthest + 1}};
    }

    /// The mics' bands that show this moment.
    const std::vector<QRect>& bands(bool landed) const { return landed ? landedBands_ : playedBands_; }

    int xOf(std::int64_t frame) const {
        return static_cast<int>(std::lround(state_.axis.toX(static_cast<double>(frame))));
    }

    /// Lead-ins and seams to scale, where they are wide enough to be told apart.
    void paintLeadIns() {
        const double perPixel = state_.axis.framesPerPixel();
        const double leadPixels =
            static_cast<double>(toFrames(state_.session->seams.leadIn, state_.session->rate).frames) / perPixel;
        if (leadPixels < 4)
            return;
        const auto [first, last] = state_.visibleHits();
        for (std::size_t i = first; i < last; ++i) {
            const Hit& hit = state_.outcome->hits[i];
            const std::int64_t cut =
                (hit.first - toFrames(state_.session->seams.leadIn, state_.session->rate)).frame;
            for (const bool landed : {false, true}) {
                const std::int64_t shift =
                    landed ? (state_.landingOf(i).frame - hit.anchor.frame) : state_.session->take().start.frames;
                for (const QRect& band : bands(landed))
                    canvas_.tint(QRect(QPoint(xOf(cut + shift), band.top()),
                                       QPoint(xOf(hit.first.frame + shift), band.bottom() - 1)),
                                 state_.ink.paper.rgb(), state_.ink.pocket.rgb());
            }
        }
        for (const Seam& seam : state_.outcome->plan->seams) {
            const int left = xOf(seam.range.begin.frame);
            const int right = xOf(seam.range.end.frame);
            if (right < 0 || left > state_.axis.width() || right - left < 3)
                continue;
            const QColor shade = mixed(state_.ink.accent, state_.ink.paper, 0.3);
            for (const QRect& band : bands(true)) {
                // A wedge: the earlier slice thins out, the later one comes up.
                for (int x = left; x <= right; ++x) {
                    const int height = (band.height() - 2) * (x - left) / std::max(1, right - left);
                    canvas_.tint(QRect(x, band.bottom() - 1 - height, 1, height), state_.ink.paper.rgb(),
                                 shade.rgb());
                }
            }
        }
    }

    /// From afar, full lines would hide what they cut: there they are faint and lie behind the waveforms.
    bool cutsAreDense() const {
        const auto [first, last] = state_.visibleHits();
        return static_cast<double>(last - first) * 14 > state_.axis.width();
    }

    void paintCuts(double strength) {
        const auto [first, last] = state_.visibleHits();
        std::array<int, 2> drawn{-1, -1}; // from afar many cuts share a column of pixels
        for (std::size_t i = first; i < last; ++i) {
            const bool selected = state_.isSelected(i);
            const QColor ink =
                selected ? state_.ink.accent
                         : mixed(state_.ink.of(state_.outcome->hits[i].voice), state_.ink.paper, strength);
            for (const bool landed : {false, true}) {
                const int x = xOf(landed ? state_.landingOf(i).frame : state_.playedAt(i).frame);
                if (std::exchange(drawn[landed], x) == x && !selected)
                    continue;
                for (const QRect& band : bands(landed)) {
                    canvas_.column(x, band.top(), band.bottom() - 1, ink.rgb());
                    if (selected)
                        canvas_.column(x + 1, band.top(), band.bottom() - 1, ink.rgb());
                }
            }
        }
    }

    const SheetState& state_;
    Document& document_;
    Canvas canvas_;
    std::vector<QRect> playedBands_;
    std::vector<QRect> landedBands_;
};

} // namespace

void paintLanes(QImage& image, const SheetState& state, Document& document) {
    LanePainter(image, state, document).paint();
}

} // namespace lampo
