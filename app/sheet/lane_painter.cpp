#include "sheet/lane_painter.h"

#include "base/mic_set.h"
#include "base/parallel.h"
#include "map/grid.h"
#include "session/seams_by_place.h"

#include <QPainter>

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <utility>

namespace lampo {
namespace {

/// A part of a lane that shows one moment.
/// Frames per pixel under which single samples are dots.
constexpr double dotsBelow = 0.34;

constexpr Milliseconds stretchedSlice{1}; ///< of a stretched tail that is drawn in one piece

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
        for (MicIndex lane; lane < state.session->mics.size(); ++lane)
            for (const Band& band : bandsOf(state.layout.lanes[lane], state.show))
                (band.landed ? landedBands_ : playedBands_).push_back(band.rect);
        findRuns();
    }

    void paint() {
        canvas_.fill(state_.layout.lanesArea, state_.ink.paper.rgb());
        paintGrid();
        paintLeadIns();
        const bool dense = cutsAreDense();
        if (dense)
            paintCuts(0.22);
        // Lanes do not touch each other's pixels, so every core paints some.
        forEachIndex(state_.layout.lanes.size(), [this](std::size_t lane) { paintLane({lane}); });
        if (!dense)
            paintCuts(1);
    }

private:
    bool isCompanion(MicIndex lane) const { return lane >= state_.session->mics.size(); }

    void paintGrid() {
        const MusicalMap map(state_.session->map, state_.session->rate);
        const Range<SongFrame> shown{{static_cast<std::int64_t>(state_.axis.firstFrame())},
                                     {static_cast<std::int64_t>(state_.axis.lastFrame()) + 1}};
        const auto lines = gridLines(map, shown, [&](int bar, int beat) {
            const TimingSettings timing = state_.session->timingAt({bar, static_cast<double>(beat)});
            return GridRule(timing.grid, timing.swing);
        });
        for (const GridLine& line : lines) {
            const double stepPixels = static_cast<double>(line.step.frames) / state_.axis.framesPerPixel();
            if (line.weight != LineWeight::bar && stepPixels < (line.weight == LineWeight::beat ? 2 : 7))
                continue;
            const QColor colour = line.weight == LineWeight::bar    ? state_.ink.barLine
                                  : line.weight == LineWeight::beat ? state_.ink.rule
                                                                    : state_.ink.pocket;
            canvas_.column(static_cast<int>(std::lround(state_.axis.toX(line.frame))),
                           state_.layout.lanesArea.top(), state_.layout.lanesArea.bottom(), colour.rgb());
        }
    }

    void paintLane(MicIndex lane) {
        const QRect rect = state_.layout.lanes[lane];
        if (!rect.intersects(state_.layout.lanesArea))
            return;
        canvas_.fill(QRect(rect.left(), rect.bottom(), rect.width(), 1), state_.ink.rule.rgb());
        const auto& session = *state_.session;
        if (isCompanion(lane)) {
            const SourceFile& file = session.companions[lane - session.mics.size()].file;
            return paintWaves(lane, {rect, false}, state_.ink.wave, companionRuns_,
                              [&](std::size_t) { return &file; });
        }
        const QColor ink =
            session.mics[lane].guide ? state_.ink.of(voiceOf(session.mics[lane].role)) : state_.ink.wave;
        const auto landed = isPatched(lane) ? patchedRuns(lane) : std::vector<Run>{};
        for (const Band& band : bandsOf(rect, state_.show))
            paintWaves(lane, band, ink,
                       !band.landed     ? playedRuns_
                       : landed.empty() ? landedRuns_
                                        : landed,
                       [&](TakeIndex take) { return &session.takes[take].files[lane]; });
    }

    /// A stretch of the picture that shows one stretch of one take.
    struct Run {
        double begin; ///< frames on the sheet's axis
        double end;
        TakeIndex take;
        FrameCount shift;
    };

    /// A stretched tail is drawn as slices whose shifts grow.
    void addSegment(const Segment& segment) {
        const auto add = [&](ResultFrame begin, ResultFrame end, FrameCount shift) {
            if (visible(static_cast<double>(begin.frame), static_cast<double>(end.frame)))
                landedRuns_.push_back(
                    {static_cast<double>(begin.frame), static_cast<double>(end.frame), segment.take, shift});
        };
        if (!segment.stretch)
            return add(segment.sounds.begin, segment.sounds.end, segment.shift.by);
        const FrameCount slice = std::max(FrameCount{1}, toFrames(stretchedSlice, state_.session->rate));
        for (ResultFrame at = segment.sounds.begin; at < segment.sounds.end; at = at + slice)
            add(at, std::min(at + slice, segment.sounds.end), {at.frame - segment.sourceAt(at).frame});
    }

    /// Whether a patch on the lane changes what sounds there, in the part that is seen.
    bool isPatched(MicIndex lane) const {
        const auto& patches = state_.plan().patches;
        return std::any_of(patches.begin(), patches.end(),
                           [&](const PlannedPatch& patch) { return changesSound(patch, lane); });
    }
    bool changesSound(const PlannedPatch& patch, MicIndex lane) const {
        return (patch.mics & onlyMic(lane)) != 0 && (patch.from || patch.gain == 0) &&
               visible(static_cast<double>(patch.sounds.begin.frame), static_cast<double>(patch.sounds.end.frame));
    }
    /// What sounds in one lane: the plan's runs, cut out where a patch lies, and what it brings instead.
    std::vector<Run> patchedRuns(MicIndex lane) const {
        std::vector<Run> runs = landedRuns_;
        for (const PlannedPatch& patch : state_.plan().patches) {
            if (!changesSound(patch, lane))
                continue;
            const auto begin = static_cast<double>(patch.sounds.begin.frame),
                       end = static_cast<double>(patch.sounds.end.frame);
            std::vector<Run> left;
            for (const Run& run : runs) {
                if (run.begin < begin)
                    left.push_back({run.begin, std::min(run.end, begin), run.take, run.shift});
                if (run.end > end)
                    left.push_back({std::max(run.begin, end), run.end, run.take, run.shift});
            }
            if (patch.from)
                left.push_back({begin, end, patch.from->take, patch.from->shift.by});
            runs = std::move(left);
        }
        std::sort(runs.begin(), runs.end(), [](const Run& a, const Run& b) { return a.begin < b.begin; });
        return runs;
    }

    bool visible(double begin, double end) const {
        return end > state_.axis.firstFrame() && begin < state_.axis.lastFrame() + state_.axis.framesPerPixel();
    }

    void findRuns() {
        const auto add = [this](std::vector<Run>& runs, std::int64_t begin, std::int64_t end, TakeIndex take,
                                FrameCount shift) {
            if (visible(static_cast<double>(begin), static_cast<double>(end)))
                runs.push_back({static_cast<double>(begin), static_cast<double>(end), take, shift});
        };
        for (const Segment& segment : state_.plan().segments)
            addSegment(segment);
        const auto& form = state_.session->form;
        for (std::size_t part = 0; part < form.size(); ++part)
            if (form[part].moved)
                add(companionRuns_, form[part].begin.frame,
                    part + 1 < form.size() ? form[part + 1].begin.frame : std::numeric_limits<std::int64_t>::max(),
                    {}, *form[part].moved);
        for (const ChosenPiece& piece : state_.outcome->choice.pieces)
            if (!piece.silent())
                add(playedRuns_, piece.piece.range.begin.frame, piece.piece.range.end.frame, piece.laid->where.take,
                    piece.laid->where.shift.by);
    }

    /// Runs of one take that lie together in its files are read in one go.
    Range<SourceFrame> sourceOf(std::span<const Run> runs, std::size_t first) const {
        const double begin = std::max(runs[first].begin, state_.axis.firstFrame());
        const double end = std::min(runs[first].end, state_.axis.lastFrame() + state_.axis.framesPerPixel());
        const double near = state_.axis.lastFrame() - state_.axis.firstFrame();
        double low = begin - static_cast<double>(runs[first].shift.frames);
        double high = end - static_cast<double>(runs[first].shift.frames);
        for (std::size_t i = first + 1; i < runs.size() && runs[i].take == runs[first].take; ++i) {
            const double nextLow = runs[i].begin - static_cast<double>(runs[i].shift.frames);
            const double nextHigh =
                std::min(runs[i].end, state_.axis.lastFrame()) - static_cast<double>(runs[i].shift.frames);
            if (std::max(high, nextHigh) - std::min(low, nextLow) > 2 * near)
                break;
            low = std::min(low, nextLow);
            high = std::max(high, nextHigh);
        }
        return {{static_cast<std::int64_t>(low) - 1},
                {static_cast<std::int64_t>(high + state_.axis.framesPerPixel()) + 2}};
    }

    /// One column per pixel; its source range is that of the run that sounds in its middle.
    template <class FileOf>
    void paintWaves(MicIndex lane, const Band& band, const QColor& ink, std::span<const Run> runs,
                    const FileOf& fileOf) {
        const double perPixel = state_.axis.framesPerPixel();
        const int middle = band.rect.center().y();
        const QRgb colour = ink.rgb();
        std::size_t shown = runs.size(); // the run that is prepared
        WaveSource* wave = nullptr;
        Range<SourceFrame> prepared;
        float scale = 0;
        std::size_t run = 0;
        for (int x = 0; x < band.rect.width(); ++x) {
            const double begin = state_.axis.toFrame(x);
            while (run < runs.size() && runs[run].end <= begin + perPixel / 2)
                ++run;
            if (run == runs.size())
                return;
            if (runs[run].begin > begin + perPixel / 2)
                continue; // an open hole, or behind the end
            const auto first = static_cast<std::int64_t>(begin) - runs[run].shift.frames; // begin is never negative
            const auto last =
                std::max(first + 1, static_cast<std::int64_t>(begin + perPixel) + 1 - runs[run].shift.frames);
            if (run != shown) {
                const bool sameTake = shown < runs.size() && runs[shown].take == runs[run].take;
                if (!sameTake) {
                    const SourceFile* file = fileOf(runs[run].take);
                    wave = file->empty() ? nullptr : document_.wave(*file);
                    scale = wave ? static_cast<float>(band.rect.height() * 0.47 * state_.waveHeightOf(lane)) /
                                       std::max(wave->loudest(), 1e-4F)
                                 : 0;
                }
                if (wave &&
                    (!sameTake || prepared.intersected({{first}, {last}}) != Range<SourceFrame>{{first}, {last}})) {
                    prepared = sourceOf(runs, run);
                    wave->prepare(prepared, perPixel);
                }
                shown = run;
            }
            if (!wave)
                continue;
            const Extent extent = wave->extent({{first}, {last}});
            const auto yOf = [&](float sample) {
                return std::clamp(middle - static_cast<int>(sample * scale), band.rect.top(),
                                  band.rect.bottom() - 1);
            };
            canvas_.column(x, yOf(extent.high), yOf(extent.low), colour);
            if (perPixel < dotsBelow && std::floor(begin) != std::floor(begin - perPixel)) // a sample of its own
                for (int beside = -1; beside <= 1; ++beside)
                    canvas_.column(x + beside, yOf(extent.high) - 1, yOf(extent.high) + 1, colour);
        }
    }

    /// The mics' bands that show this moment.
    const std::vector<QRect>& bands(bool landed) const { return landed ? landedBands_ : playedBands_; }

    int xOf(std::int64_t frame) const {
        return static_cast<int>(std::lround(state_.axis.toX(static_cast<double>(frame))));
    }

    /// Lead-ins to scale, where they are wide enough to be told apart.
    void paintLeadIns() {
        const SeamsByPlace rules(*state_.session);
        const auto [first, last] = state_.visibleHits();
        for (HitIndex i = first; i < last; ++i) {
            const SongHit& hit = state_.outcome->hits[i];
            const FrameCount leadIn = toFrames(rules.at(asSong(state_.landingOf(i))).leadIn, state_.session->rate);
            if (static_cast<double>(leadIn.frames) < 4 * state_.axis.framesPerPixel())
                continue;
            const std::int64_t cut = (hit.first - leadIn).frame;
            for (const bool landed : {false, true}) {
                const std::int64_t shift =
                    landed ? (state_.landingOf(i).frame - hit.anchor.frame) : hit.shift.by.frames;
                for (const QRect& band : bands(landed))
                    canvas_.tint(QRect(QPoint(xOf(cut + shift), band.top()),
                                       QPoint(xOf(hit.first.frame + shift), band.bottom() - 1)),
                                 state_.ink.paper.rgb(), state_.ink.pocket.rgb());
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
        for (HitIndex i = first; i < last; ++i) {
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
    std::vector<Run> playedRuns_;
    std::vector<Run> landedRuns_;
    std::vector<Run> companionRuns_;
};

} // namespace

void paintLanes(QImage& image, const SheetState& state, Document& document) {
    LanePainter(image, state, document).paint();
}

} // namespace lampo
