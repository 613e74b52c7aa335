#include "proof/plan_places.h"

#include "advice/map_advice.h"
#include "base/text.h"
#include "map/musical_map.h"
#include "proof/joined.h"

#include <algorithm>
#include <cmath>
#include <fmt/core.h>

namespace lampo {
namespace {

// All of these: common practice, no source.
constexpr Milliseconds farMove{60};    ///< beyond it an ear is worth it
constexpr Milliseconds oneRun{2000};   ///< far moves or long holes nearer than this are one place
constexpr Milliseconds flamReach{35};  ///< strokes farther apart than this are two notes, not a flam
constexpr double displaced = 0.6;      ///< of a grid step that a hit moves otherwise than its neighbours
constexpr std::size_t neighbours = 4;  ///< to both sides
constexpr std::size_t longestRun = 12; ///< hits that a phrase may be off by
constexpr double agreement = 0.25;     ///< of a grid step within which moves are alike
constexpr Milliseconds neighbourhood{3000};

class PlanProof {
public:
    PlanProof(const Session& session, const Outcome& outcome)
        : session_(session), outcome_(outcome), map_(session.map, session.rate) {}

    std::vector<ProofPlace> run() {
        aboutLines();
        aboutDistances();
        aboutFarMoves();
        aboutHoles();
        aboutTails();
        aboutPatches();
        aboutWarnings();
        aboutMap();
        return std::move(found_);
    }

private:
    double ms(FrameCount count) const { return toMilliseconds(count, session_.rate).value; }
    static std::string rounded(double value, int decimals = 0) { return trimmedNumber(std::abs(value), decimals); }
    std::string drumOf(HitIndex hit) const { return std::string(name(outcome_.hits[hit].voice)); }
    static std::string placeOf(const GridLine& line) {
        return fmt::format("bar {} beat {}", line.place.bar, trimmedNumber(line.place.beat, 2));
    }
    /// A place that is about one hit: it changes when the hit or its landing does.
    ProofPlace at(HitIndex hit, ProofKind kind, double size, std::string text) const {
        const SongHit& one = outcome_.hits[hit];
        const Landing& landing = outcome_.landings[hit];
        ProofPlace place{momentAt(landing.at, session_.rate), kind, size, std::move(text)};
        place.content = contentOf({static_cast<std::int64_t>(kind), session_.takes[one.take].letter.value,
                                   one.found().frame, landing.move().frames});
        place.hit = hit;
        return place;
    }
    ProofPlace at(Range<ResultFrame> where, ProofKind kind, double size, std::string text,
                  std::uint64_t content) const {
        ProofPlace place{where, kind, size, std::move(text)};
        place.content = content;
        return place;
    }
    /// Median of the moves of so many hits with lines from `first` on, all of one take; none where they do not
    /// agree.
    std::optional<double> commonMove(std::size_t first, std::size_t count, TakeIndex take, double step) const {
        std::vector<double> moves;
        for (std::size_t hit = first; hit < first + count; ++hit)
            if (outcome_.hits[hit].take == take && outcome_.landings[hit].line)
                moves.push_back(static_cast<double>(outcome_.landings[hit].move().frames));
        if (moves.size() < count)
            return std::nullopt;
        std::sort(moves.begin(), moves.end());
        if (moves[count * 3 / 4] - moves[count / 4] > agreement * step)
            return std::nullopt;
        return moves[count / 2];
    }
    /// A run of hits that all move otherwise than those before and those behind it, which agree: how many hits from
    /// `first` on, and by how many grid steps.
    struct Run {
        std::size_t hits = 0;
        double steps = 0;
    };
    Run displacedRun(HitIndex first) const {
        const Landing& landing = outcome_.landings[first];
        if (!landing.line || landing.state == LandingState::pinned || first < neighbours)
            return {};
        const TakeIndex take = outcome_.hits[first].take;
        const FrameCount reach = toFrames(neighbourhood, session_.rate);
        const auto step = static_cast<double>(landing.line->step.frames);
        const auto before = commonMove(first - neighbours, neighbours, take, step);
        if (!before || landing.at - outcome_.landings[first - neighbours].at > reach ||
            std::abs(static_cast<double>(landing.move().frames) - *before) < displaced * step)
            return {};
        for (std::size_t hits = 1; hits <= longestRun && first + hits + neighbours <= outcome_.hits.size();
             ++hits) {
            const Landing& last = outcome_.landings[first + hits - 1];
            const auto own = commonMove(first, hits, take, step),
                       behind = commonMove(first + hits, neighbours, take, step);
            if (!own)
                return {};
            if (behind && std::abs(*behind - *before) < agreement * step &&
                std::abs(*own - *behind) > displaced * step &&
                outcome_.landings[first + hits + neighbours - 1].at - last.at < reach)
                return {hits, std::abs(*own - *before) / step};
        }
        return {};
    }

    void aboutLines() {
        for (HitIndex hit; hit < outcome_.hits.size(); ++hit) {
            const Landing& landing = outcome_.landings[hit];
            if (!landing.line)
                continue;
            const std::string line = placeOf(*landing.line);
            const Run run = displacedRun(hit);
            if (run.hits > 0) {
                found_.push_back(at(
                    hit, ProofKind::wrongLine, std::min(1.0, run.steps - 0.2),
                    run.hits == 1
                        ? fmt::format("This {} goes to {}, and its neighbours tell of another line", drumOf(hit),
                                      line)
                        : fmt::format("{} from {} on move otherwise than their neighbours, who tell of other lines",
                                      counted(static_cast<std::int64_t>(run.hits), "hit"), line)));
                found_.back().where.end = momentAt(outcome_.landings[hit + run.hits - 1].at, session_.rate).end;
                found_.back().hits = run.hits;
                hit = HitIndex{hit + run.hits - 1};
            } else if (landing.state == LandingState::doubtful)
                found_.push_back(at(hit, ProofKind::wrongLine, 0.5,
                                    fmt::format("This {} may mean another line than {}", drumOf(hit), line)));
            else if (landing.state == LandingState::beyond)
                found_.push_back(at(
                    hit, ProofKind::loose,
                    std::max(ms(abs(landing.at - asResult(landing.line->frame))), scaleOf(ProofKind::loose).told),
                    fmt::format("This {} means {}, which lies beyond the reach, so it stays as played", drumOf(hit),
                                line)));
            else if (landing.heldTogether)
                found_.push_back(
                    at(hit, ProofKind::loose, ms(abs(landing.at - asResult(landing.line->frame))),
                       fmt::format("This {} is too near its neighbour to be cut from it, so both move together",
                                   drumOf(hit))));
        }
    }

    /// Strokes of one take that are nearly together, as played or as landed.
    void aboutDistances() {
        for (HitIndex hit{1}; hit < outcome_.hits.size(); ++hit) {
            const HitIndex before{hit - 1};
            const SongHit &a = outcome_.hits[before], &b = outcome_.hits[hit];
            if (!a.besideInItsTake(b) || a.bare || b.bare)
                continue;
            const double played = ms(outcome_.landings[hit].played - outcome_.landings[before].played),
                         landed = ms(outcome_.landings[hit].at - outcome_.landings[before].at);
            if (std::min(played, landed) > flamReach.value || (a.voice == b.voice && landed > played))
                continue;
            found_.push_back(at(hit, ProofKind::flam, std::abs(landed - played),
                                fmt::format("This {} sounds {} ms behind the {}, and was played {} ms behind it",
                                            drumOf(hit), rounded(landed, 1), drumOf(before), rounded(played, 1))));
            // It is about the distance: wherever both go together, it stays.
            found_.back().content = contentOf(
                {static_cast<std::int64_t>(ProofKind::flam), session_.takes[b.take].letter.value, a.found().frame,
                 b.found().frame, (outcome_.landings[hit].at - outcome_.landings[before].at).frames});
        }
    }

    /// Runs of hits that moved far to the same side are one place.
    void aboutFarMoves() {
        const auto isFar = [&](HitIndex hit, bool later) {
            const double move = ms(outcome_.landings[hit].move());
            return std::abs(move) > farMove.value && (move > 0) == later;
        };
        for (HitIndex first; first < outcome_.hits.size(); ++first) {
            const bool later = outcome_.landings[first].move() > FrameCount{};
            if (!isFar(first, later))
                continue;
            HitIndex last = first;
            std::size_t count = 1;
            double least = std::abs(ms(outcome_.landings[first].move())), most = least;
            std::uint64_t content = contentOf({static_cast<std::int64_t>(outcome_.hits[first].found().frame)});
            for (HitIndex next{first + 1};
                 next < outcome_.hits.size() &&
                 outcome_.landings[next].at - outcome_.landings[last].at < toFrames(oneRun, session_.rate);
                 ++next)
                if (isFar(next, later)) {
                    const double move = std::abs(ms(outcome_.landings[next].move()));
                    least = std::min(least, move);
                    most = std::max(most, move);
                    content = contentOf({static_cast<std::int64_t>(content), outcome_.hits[next].found().frame,
                                         outcome_.landings[next].move().frames});
                    last = next;
                    ++count;
                }
            // Far is no fault by itself: whether the line is right is told by others.
            const double size = std::min(0.5, (most - farMove.value) / 400);
            const char* how = later ? "rushed" : "dragged";
            std::string text = count == 1 ? fmt::format("This {} moves by {} ms", drumOf(first), rounded(most))
                                          : fmt::format("{} moved by {} to {} ms, a {} passage",
                                                        counted(static_cast<std::int64_t>(count), "hit"),
                                                        rounded(least), rounded(most), how);
            ProofPlace place = at(
                {outcome_.landings[first].at, momentAt(outcome_.landings[last].at, session_.rate).end},
                ProofKind::wrongLine, size, std::move(text),
                contentOf({static_cast<std::int64_t>(ProofKind::wrongLine), static_cast<std::int64_t>(content)}));
            place.hit = first;
            place.hits = last - first + 1;
            found_.push_back(std::move(place));
            first = last;
        }
    }

    void aboutHoles() {
        const auto& segments = outcome_.plan->segments;
        const auto opened = [&](std::size_t i) {
            if (!goesOnInItsTake(*outcome_.plan, i, session_.rate) || segments[i].stretch ||
                segments[i - 1].stretch)
                return 0.0; // nothing opens at a border; tails are told by themselves
            const double hole = ms(segments[i].shift - segments[i - 1].shift);
            return hole > longestHole.value ? hole : 0.0;
        };
        for (std::size_t i = 1; i < segments.size(); ++i) {
            if (opened(i) == 0)
                continue;
            std::size_t last = i, count = 1;
            double least = opened(i), most = least;
            const auto added = [&](std::uint64_t content, std::size_t slice) {
                return contentOf({static_cast<std::int64_t>(content),
                                  session_.takes[segments[slice].take].letter.value,
                                  segments[slice].sourceAt(segments[slice].sounds.begin).frame,
                                  (segments[slice].shift - segments[slice - 1].shift).frames});
            };
            std::uint64_t content = added(contentOf({static_cast<std::int64_t>(ProofKind::stretched)}), i);
            for (std::size_t next = i + 1;
                 next < segments.size() &&
                 segments[next].sounds.begin - segments[last].sounds.begin < toFrames(oneRun, session_.rate);
                 ++next)
                if (const double hole = opened(next); hole > 0) {
                    least = std::min(least, hole);
                    most = std::max(most, hole);
                    content = added(content, next);
                    last = next;
                    ++count;
                }
            const bool stays = segments[i].sounds.begin >= segments[i - 1].sounds.end;
            const char* what = stays ? "opens" : "is filled with what sounded earlier";
            found_.push_back(
                at({segments[i].sounds.begin, momentAt(segments[last].sounds.begin, session_.rate).end},
                   ProofKind::stretched, most / longestHole.value,
                   count == 1 ? fmt::format("A hole of {} ms before this slice {}", rounded(most), what)
                              : fmt::format("{} holes of {} to {} ms before these slices; the first {}", count,
                                            rounded(least), rounded(most), what),
                   content));
            i = last;
        }
    }

    void aboutTails() {
        for (const Segment& segment : outcome_.plan->segments)
            if (segment.stretch && segment.stretch->ratio() > session_.seams.mostStretch)
                found_.push_back(at(
                    segment.sounds, ProofKind::stretched, segment.stretch->ratio() / session_.seams.mostStretch,
                    fmt::format("A tail is stretched to {} times its length here",
                                trimmedNumber(segment.stretch->ratio(), 2)),
                    contentOf({static_cast<std::int64_t>(ProofKind::stretched), segment.stretch->tail.begin.frame,
                               segment.stretch->tail.end.frame, segment.sounds.length().frames})));
        for (SeamIndex index; index < outcome_.plan->seams.size(); ++index)
            if (const Seam& seam = outcome_.plan->seams[index]; seam.kind == SeamKind::repeated) {
                found_.push_back(
                    at(seam.range, ProofKind::stutter, ms(seam.again),
                       fmt::format("{} ms of a tail sound again, since the hole is longer than what rings",
                                   rounded(ms(seam.again))),
                       contentOf({static_cast<std::int64_t>(ProofKind::stutter), seam.again.frames,
                                  seam.between ? seam.between->behind.frame : seam.range.begin.frame})));
                found_.back().seam = index;
            }
    }

    /// One drum's mics shifted far against the others.
    void aboutPatches() {
        for (const PlannedPatch& planned : outcome_.plan->patches) {
            const Patch& patch = session_.patches[planned.patch];
            const double shift = ms(patch.shift);
            if (patch.kind != PatchKind::shift || std::abs(shift) <= session_.seams.farShift.value)
                continue;
            ProofPlace place =
                at(planned.sounds, ProofKind::phase, std::abs(shift),
                   fmt::format("A stroke sounds {} ms {} than the other mics have it, which cancels first at {} Hz",
                               rounded(shift, 1), shift < 0 ? "earlier" : "later",
                               trimmedNumber(firstNotch(patch.shift, session_.rate), 0)),
                   contentOf({static_cast<std::int64_t>(ProofKind::phase), patch.at.at.frame, patch.shift.frames}));
            place.mics = planned.mics;
            place.patch = planned.patch;
            found_.push_back(std::move(place));
        }
    }

    /// What is told already of what the user said and nothing obeys.
    void aboutWarnings() {
        for (const Warning& warning : outcome_.warnings) {
            const bool lost = warning.said || warning.kind == WarningKind::crowdedBorder;
            if (!lost && warning.kind != WarningKind::nothingFound)
                continue;
            const TakePlace said = warning.said.value_or(TakePlace{{}, SourceFrame{warning.at.frame}});
            found_.push_back(
                at(momentAt(warning.at, session_.rate), lost ? ProofKind::lostCorrection : ProofKind::silent,
                   lost ? 1 : scaleOf(ProofKind::silent).ruinous, warning.text,
                   contentOf({static_cast<std::int64_t>(warning.kind), said.take.value, said.at.frame})));
            found_.back().said = warning.said;
        }
    }

    void aboutMap() {
        for (MapAdvice& advice : checkMap(session_, outcome_).advice) {
            std::uint64_t content = contentOf({static_cast<std::int64_t>(ProofKind::map)});
            for (const char letter : advice.sentence)
                content = contentOf({static_cast<std::int64_t>(content), letter});
            found_.push_back(at({ResultFrame{0}, ResultFrame{} + session_.length() + FrameCount{1}}, ProofKind::map,
                                1, advice.sentence, content));
            found_.back().map = std::make_shared<const MapData>(std::move(advice.map));
        }
    }

    const Session& session_;
    const Outcome& outcome_;
    MusicalMap map_;
    std::vector<ProofPlace> found_;
};

} // namespace

std::vector<ProofPlace> placesOfPlan(const Session& session, const Outcome& outcome) {
    return PlanProof(session, outcome).run();
}

} // namespace lampo
