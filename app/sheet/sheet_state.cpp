#include "sheet/sheet_state.h"

#include "advice/patch_advice.h"
#include "samples/sample_strokes.h"

#include <algorithm>
#include <cmath>

namespace lampo {

namespace {

constexpr double deepest = 42; ///< dB below a strong hit, at the foot of a lane
constexpr double headRoom = 6; ///< dB above it, at its top
constexpr int nearPixels = 5;
constexpr int laneMargin = 3; ///< so that heads at the foot stay in their lane

} // namespace

bool SheetState::isSelected(HitIndex hit) const {
    return std::binary_search(selection.begin(), selection.end(), hit);
}

SongFrame SheetState::playedAt(HitIndex hit) const {
    return mark && mark->hit == hit ? mark->at + outcome->hits[hit].shift : outcome->landings[hit].played;
}

QRect SheetState::playedBand(MicIndex lane) const {
    const QRect rect = layout.lanes[lane];
    if (show == Show::asLanded)
        return {};
    return show == Show::both ? QRect(rect.left(), rect.top(), rect.width(), rect.height() / 2) : rect;
}

double SheetState::waveHeightOf(MicIndex lane) const {
    const auto own = ownHeights.find(lane);
    return std::clamp(waveHeight * (own == ownHeights.end() ? 1 : own->second), 1.0, highestWaves);
}

QRect SheetState::landedBand(MicIndex lane) const {
    const QRect rect = layout.lanes[lane];
    if (show == Show::asPlayed)
        return {};
    const int above = show == Show::both ? rect.height() / 2 : 0;
    return rect.adjusted(0, above, 0, 0);
}

std::optional<SheetState::SeamGrip> SheetState::seamUnder(QPoint point) const {
    const auto lane = layout.laneAt(point);
    if (!choosesSeams || !lane || *lane >= session->mics.size() || !landedBand(*lane).contains(point))
        return std::nullopt;
    const auto& all = outcome->plan->seams;
    const double reach = nearPixels * axis.framesPerPixel();
    const double place = axis.toFrame(point.x());
    const auto near = std::partition_point(all.begin(), all.end(), [&](const Seam& one) {
        return static_cast<double>(one.range.end.frame) + reach < place;
    });
    if (near == all.end() || static_cast<double>(near->range.begin.frame) - reach > place)
        return std::nullopt;
    const SeamIndex index{static_cast<std::size_t>(near - all.begin())};
    const double left = axis.toX(near->range.begin), right = axis.toX(near->range.end);
    const double grip = std::min<double>(nearPixels, (right - left) / 3);
    if (right - left < 2 * nearPixels)
        return SeamGrip{index, SeamGrip::Part::middle};
    return SeamGrip{index, std::abs(point.x() - left) <= grip    ? SeamGrip::Part::begin
                           : std::abs(point.x() - right) <= grip ? SeamGrip::Part::end
                                                                 : SeamGrip::Part::middle};
}

bool SheetState::showsCandidatesOf(MicIndex lane) const {
    return showsCandidates && lane < session->mics.size() && session->mics[lane].guide &&
           !playedBand(lane).isEmpty();
}

bool SheetState::exists(CandidateRef ref) const {
    if (ref.piece >= outcome->choice.pieces.size() || outcome->choice.pieces[ref.piece].silent())
        return false;
    const auto& judged = outcome->takes[outcome->choice.pieces[ref.piece].laid->where.take]->found.judged;
    return ref.mic < judged.size() && ref.index < judged[ref.mic].size();
}

std::vector<SheetState::CandidateRef> SheetState::candidatesBetween(MicIndex mic, double firstFrame,
                                                                    double lastFrame) const {
    std::vector<CandidateRef> refs;
    const auto& pieces = outcome->choice.pieces;
    for (std::size_t p = 0; p < pieces.size(); ++p) {
        if (!exists({mic, 0, p}))
            continue;
        const Placed& where = pieces[p].laid->where;
        const auto& candidates = outcome->takes[where.take]->mics[mic]->candidates;
        const double begin = std::max(firstFrame, static_cast<double>(pieces[p].piece.range.begin.frame));
        const double end = std::min(lastFrame, static_cast<double>(pieces[p].piece.range.end.frame));
        for (auto c = std::partition_point(
                 candidates.begin(), candidates.end(),
                 [&](const Candidate& x) { return static_cast<double>((x.at + where.shift).frame) < begin; });
             c != candidates.end() && static_cast<double>((c->at + where.shift).frame) <= end; ++c)
            refs.push_back({mic, static_cast<std::size_t>(c - candidates.begin()), p});
    }
    return refs;
}

std::vector<std::pair<SongFrame, Decibels>> SheetState::strokesBetween(MicIndex mic, double firstFrame,
                                                                       double lastFrame) const {
    std::vector<std::pair<SongFrame, Decibels>> found;
    for (const ChosenPiece& piece : outcome->choice.pieces) {
        if (!piece.laid)
            continue;
        const double begin = std::max(firstFrame, static_cast<double>(piece.piece.range.begin.frame));
        const double end = std::min(lastFrame, static_cast<double>(piece.piece.range.end.frame));
        for (const Stroke& stroke : outcome->takes[piece.laid->where.take]->strokes->strokes) {
            const SongFrame at = stroke.at + piece.laid->where.shift;
            if (stroke.mic == mic && static_cast<double>(at.frame) >= begin && static_cast<double>(at.frame) <= end)
                found.emplace_back(at, stroke.level);
        }
    }
    return found;
}

const Candidate& SheetState::candidateOf(CandidateRef ref) const {
    const Placed& where = outcome->choice.pieces[ref.piece].laid->where;
    return outcome->takes[where.take]->mics[ref.mic]->candidates[ref.index];
}

const JudgedCandidate& SheetState::judgedOf(CandidateRef ref) const {
    const Placed& where = outcome->choice.pieces[ref.piece].laid->where;
    return outcome->takes[where.take]->found.judged[ref.mic][ref.index];
}

SongFrame SheetState::candidateAt(CandidateRef ref) const {
    return candidateOf(ref).at + outcome->choice.pieces[ref.piece].laid->where.shift;
}

double SheetState::levelY(MicIndex lane, Decibels level) const {
    const QRect band = playedBand(lane);
    const double down = std::clamp(headRoom - level.value, 0.0, headRoom + deepest) / (headRoom + deepest);
    return band.top() + laneMargin + down * (band.height() - 2 * laneMargin);
}

Decibels SheetState::levelAt(MicIndex lane, int y) const {
    const QRect band = playedBand(lane);
    return {headRoom -
            (y - band.top() - laneMargin) * (headRoom + deepest) / std::max(1, band.height() - 2 * laneMargin)};
}

Decibels SheetState::thresholdAt(MicIndex mic, SongFrame at) const {
    const MusicalMap map(session->map, session->rate);
    const Section* section = session->sectionOf(map.barAt(at));
    const SectionDetection* own = section ? section->detectionOf(session->mics[mic].stem) : nullptr;
    return own && own->threshold ? *own->threshold : session->mics[mic].threshold;
}

std::optional<MicIndex> SheetState::thresholdUnder(QPoint point) const {
    const auto lane = layout.laneAt(point);
    if (!lane || !showsCandidatesOf(*lane) ||
        !playedBand(*lane).adjusted(0, -nearPixels, 0, nearPixels).contains(point))
        return std::nullopt;
    const double away = std::abs(levelY(*lane, thresholdAt(*lane, axis.songAt(point.x()))) - point.y());
    return away <= nearPixels ? lane : std::nullopt;
}

std::optional<SheetState::CandidateRef> SheetState::candidateUnder(QPoint point) const {
    const auto lane = layout.laneAt(point);
    if (!lane || !showsCandidatesOf(*lane))
        return std::nullopt;
    const double reach = 2 * nearPixels * axis.framesPerPixel();
    const double frame = axis.toFrame(point.x());
    std::optional<CandidateRef> nearest;
    double least = nearPixels + 1.5;
    for (const CandidateRef ref : candidatesBetween(*lane, frame - reach, frame + reach)) {
        const double away =
            std::hypot((static_cast<double>(candidateAt(ref).frame) - frame) / axis.framesPerPixel(),
                       levelY(*lane, candidateOf(ref).level) - point.y());
        if (away < least) {
            least = away;
            nearest = ref;
        }
    }
    return nearest;
}

std::optional<double> SheetState::latenessOf(HitIndex hit, bool landed) const {
    const Landing& landing = outcome->landings[hit];
    if (!landing.line)
        return std::nullopt;
    const ResultFrame at = landed ? landingOf(hit) : asResult(landing.played);
    return toMilliseconds(at - asResult(landing.line->frame - landing.line->bent), session->rate).value;
}

void SheetState::measurePlot() {
    double worst = 0;
    for (HitIndex hit; hit < outcome->landings.size(); ++hit)
        worst = std::max(worst, std::abs(latenessOf(hit, false).value_or(0)));
    for (const double reach : {20.0, 40.0, 60.0, 120.0}) {
        plotReach = reach;
        if (worst <= reach)
            return;
    }
    plotReach = 250;
}

double SheetState::plotY(double milliseconds) const {
    const double half = layout.plot.height() / 2.0 - 8;
    return layout.plot.center().y() + std::clamp(milliseconds / plotReach, -1.0, 1.0) * half;
}

QPointF SheetState::plotPoint(HitIndex hit, bool landed) const {
    const double frame = static_cast<double>(landed ? landingOf(hit).frame : outcome->landings[hit].played.frame);
    if (showsLevels())
        return {axis.toX(landingOf(hit)), plotLevelY(strokeLevel(hit, landed).value_or(softestPlotted))};
    return {axis.toX(frame), plotY(latenessOf(hit, landed).value_or(0))};
}

const DrumSample* SheetState::plottedSample() const {
    return plotsSample && *plotsSample < session->samples.size() ? &session->samples[*plotsSample] : nullptr;
}

std::optional<double> SheetState::strokeLevel(HitIndex hit, bool made) const {
    if (const DrumSample* sample = plottedSample()) {
        const auto stroke = sampleStroke(*session, *outcome, *sample, hit);
        return stroke ? std::optional((made ? stroke->level : stroke->played).value) : std::nullopt;
    }
    const Stroke* stroke = strokeOf(*outcome, outcome->hits[hit]);
    if (!stroke)
        return std::nullopt;
    return stroke->level.value + (made ? patchedGain(*session, outcome->hits[hit]) : 0);
}

double SheetState::plotHeadSize() const {
    const auto [first, last] = visibleHits();
    const double room = axis.width() / std::max(1.0, static_cast<double>(last - first));
    return std::round(std::clamp(1.2 * room, 5.0, 10.0));
}

double SheetState::decibelsPerPixel() const {
    return (loudestPlotted - softestPlotted) / std::max(1, layout.plot.height() - 16);
}

double SheetState::plotLevelY(double decibels) const {
    return layout.plot.top() + 8 +
           (loudestPlotted - std::clamp(decibels, softestPlotted, loudestPlotted)) / decibelsPerPixel();
}

std::pair<HitIndex, HitIndex> SheetState::visibleHits() const {
    const auto& landings = outcome->landings;
    const double margin = 20 * axis.framesPerPixel();
    const auto both = [](const Landing& l) { return std::pair(l.played.frame, l.at.frame); };
    const auto first = std::partition_point(landings.begin(), landings.end(), [&](const Landing& l) {
        return static_cast<double>(std::max(both(l).first, both(l).second)) < axis.firstFrame() - margin;
    });
    const auto last = std::partition_point(first, landings.end(), [&](const Landing& l) {
        return static_cast<double>(std::min(both(l).first, both(l).second)) < axis.lastFrame() + margin;
    });
    return {{static_cast<std::size_t>(first - landings.begin())},
            {static_cast<std::size_t>(last - landings.begin())}};
}

std::optional<HitIndex> SheetState::hitAt(QPoint point) const {
    if (!outcome)
        return std::nullopt;
    const auto [first, last] = visibleHits();
    std::optional<HitIndex> nearest;
    double least = 9; // pixels
    const auto consider = [&](HitIndex hit, double distance) {
        if (distance < least) {
            least = distance;
            nearest = hit;
        }
    };
    for (HitIndex hit = first; hit < last; ++hit) {
        const double playedX = axis.toX(playedAt(hit));
        const double landedX = axis.toX(landingOf(hit));
        if (layout.ladder.contains(point)) {
            consider(hit, std::hypot(point.x() - playedX, point.y() - layout.ladderPlayedY()));
            consider(hit, std::hypot(point.x() - landedX, point.y() - layout.ladderLandedY()));
        } else if (layout.plot.contains(point)) {
            if (showsLevels() && !strokeLevel(hit, true))
                continue;
            for (const bool landed : {false, true}) {
                const QPointF away = plotPoint(hit, landed) - point;
                consider(hit, std::hypot(away.x(), away.y()));
            }
        } else {
            const auto lane = layout.laneAt(point);
            const bool played = lane && *lane < session->mics.size() && playedBand(*lane).contains(point);
            consider(hit, std::abs(point.x() - (played ? playedX : landedX)));
        }
    }
    return nearest;
}

} // namespace lampo
