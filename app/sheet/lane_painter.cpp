#include "sheet/lane_painter.h"

#include "base/mic_set.h"
#include "base/parallel.h"
#include "map/grid.h"
#include "session/seams_by_place.h"
#include "sheet/lane_canvas.h"

#include <QColor>

#include <algorithm>
#include <cmath>
#include <limits>
#include <utility>

namespace lampo {
namespace {

/// Frames per pixel under which single samples are dots.
constexpr double dotsBelow = 0.34;

constexpr Milliseconds stretchedSlice{1}; ///< of a stretched tail that is drawn in one piece

// Pixels.
constexpr double narrowBar = 8;  ///< in a narrower bar only its bar line is drawn
constexpr double narrowBeat = 2; ///< where the grid's steps are narrower no beats are,
constexpr double narrowStep = 7; ///< and where they are narrower than this no lines between beats

/// A part of a lane that shows one moment.
struct Band {
    QRect rect;
    bool landed;
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
        const QRect area = state_.layout.lanesArea;
        PixelRow grid(area.right() + 1, state_.ink.paper.rgb());
        paintGrid(grid);
        canvas_.fill(area, grid);
        const bool dense = cutsAreDense();
        for (const bool landed : {false, true}) {
            PixelRow behind = grid;
            paintLeadIns(behind, landed);
            if (dense)
                eachCut(landed, 0.22, [&](int x, QRgb colour) { behind.set(x, colour); });
            for (const QRect& band : bands(landed))
                canvas_.fill(band.adjusted(0, 0, 0, -1), behind);
        }
        // Lanes do not touch each other's pixels, so every core paints some.
        forEachIndex(state_.layout.lanes.size(), [this](std::size_t lane) { paintLane({lane}); });
        for (const bool landed : {false, true})
            if (!dense)
                eachCut(landed, 1, [&](int x, QRgb colour) {
                    for (const QRect& band : bands(landed))
                        canvas_.column(x, band.top(), band.bottom() - 1, colour);
                });
    }

private:
    bool isCompanion(MicIndex lane) const { return lane >= state_.session->mics.size(); }

    void paintGrid(PixelRow& row) const {
        const MusicalMap map(state_.session->map, state_.session->rate);
        const Range<SongFrame> shown = state_.axis.shown();
        for (int bar = map.barAt(shown.begin); map.barStart(bar) < shown.end; ++bar) {
            const Range<SongFrame> range{map.barStart(bar), map.barStart(bar + 1)};
            if (pixelsOf(range.length()) >= narrowBar)
                paintLinesInside(map, range, row);
            row.set(xOf(range.begin.frame), state_.ink.barLine.rgb());
        }
    }

    void paintLinesInside(const MusicalMap& map, Range<SongFrame> bar, PixelRow& row) const {
        const auto lines = gridLines(map, bar, [&](int number, int beat) {
            const TimingSettings timing = state_.session->timingAt({number, static_cast<double>(beat)});
            return GridRule(timing.grid, timing.swing);
        });
        for (const GridLine& line : lines) {
            const bool isBeat = line.weight == LineWeight::beat;
            if (line.weight != LineWeight::bar && pixelsOf(line.step) >= (isBeat ? narrowBeat : narrowStep))
                row.set(xOf(line.frame.frame), (isBeat ? state_.ink.rule : state_.ink.pocket).rgb());
        }
    }

    double pixelsOf(FrameCount length) const {
        return static_cast<double>(length.frames) / state_.axis.framesPerPixel();
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
            add(at, std::min(at + slice, segment.sounds.end), FrameCount{at.frame - segment.sourceAt(at).frame});
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
        return {SourceFrame{static_cast<std::int64_t>(low) - 1},
                SourceFrame{static_cast<std::int64_t>(high + state_.axis.framesPerPixel()) + 2}};
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
                if (wave && (!sameTake || prepared.intersected({SourceFrame{first}, SourceFrame{last}}) !=
                                              Range<SourceFrame>{SourceFrame{first}, SourceFrame{last}})) {
                    prepared = sourceOf(runs, run);
                    wave->prepare(prepared, perPixel);
                }
                shown = run;
            }
            if (!wave)
                continue;
            const Extent extent = wave->extent({SourceFrame{first}, SourceFrame{last}});
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
    void paintLeadIns(PixelRow& row, bool landed) const {
        const SeamsByPlace rules(*state_.session);
        const auto [first, last] = state_.visibleHits();
        for (HitIndex i = first; i < last; ++i) {
            const SongHit& hit = state_.outcome->hits[i];
            const FrameCount leadIn = toFrames(rules.at(asSong(state_.landingOf(i))).leadIn, state_.session->rate);
            if (pixelsOf(leadIn) < 4)
                continue;
            const std::int64_t cut = (hit.first - leadIn).frame;
            const std::int64_t shift =
                landed ? (state_.landingOf(i).frame - hit.anchor.frame) : hit.shift.by.frames;
            row.tint(xOf(cut + shift), xOf(hit.first.frame + shift), state_.ink.pocket.rgb());
        }
    }

    /// From afar, full lines would hide what they cut: there they are faint and lie behind the waveforms.
    bool cutsAreDense() const {
        const auto [first, last] = state_.visibleHits();
        return static_cast<double>(last - first) * 14 > state_.axis.width();
    }

    /// Calls draw(x, colour) for the columns of pixels that cuts take up.
    template <class Draw>
    void eachCut(bool landed, double strength, const Draw& draw) const {
        const auto [first, last] = state_.visibleHits();
        int drawn = -1; // from afar many cuts share a column
        for (HitIndex i = first; i < last; ++i) {
            const bool selected = state_.isSelected(i);
            const int x = xOf(landed ? state_.landingOf(i).frame : state_.playedAt(i).frame);
            if (std::exchange(drawn, x) == x && !selected)
                continue;
            const QRgb colour =
                (selected ? state_.ink.accent
                          : mixed(state_.ink.of(state_.outcome->hits[i].voice), state_.ink.paper, strength))
                    .rgb();
            draw(x, colour);
            if (selected)
                draw(x + 1, colour);
        }
    }

    const SheetState& state_;
    Document& document_;
    LaneCanvas canvas_;
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
