#include "timing/landing.h"

#include "base/enum_names.h"
#include "timing/assignment.h"
#include "timing/bundles.h"
#include "timing/riding.h"

#include <algorithm>
#include <cmath>

namespace lampo {
namespace {

/// Below this the next best line is nearly as likely.
constexpr double sure = 2.0;

/// What was said about where the hits of one take land.
class SaidOfLanding {
public:
    SaidOfLanding(const Session& session, TakeLetter take) : tolerance_(correctionTolerance(session.rate)) {
        for (const Correction& correction : session.corrections)
            if (correction.take == take && aspectOf(correction.kind) == Aspect::landing)
                corrections_.push_back(&correction);
        std::sort(corrections_.begin(), corrections_.end(),
                  [](const Correction* a, const Correction* b) { return a->at < b->at; });
    }

    const Correction* about(const Hit& hit) const {
        const auto first =
            std::partition_point(corrections_.begin(), corrections_.end(), [&](const Correction* correction) {
                return correction->at < hit.found() - tolerance_;
            });
        const bool near = first != corrections_.end() && (*first)->at <= hit.found() + tolerance_;
        return near ? *first : nullptr;
    }

private:
    FrameCount tolerance_;
    std::vector<const Correction*> corrections_;
};

std::vector<TargetLine> linesAround(const Session& session, const MusicalMap& map,
                                    std::span<const Landing> landings, std::span<const SongFrame> attacks) {
    // One bar more on both sides: the first and the last hit may mean a line outside.
    const auto [first, last] =
        std::minmax_element(landings.begin(), landings.end(), [](const Landing& a, const Landing& b) {
            return a.played + a.shoved < b.played + b.shoved;
        });
    const SongFrame begin = map.barStart(map.barAt(first->played + first->shoved) - 1);
    const SongFrame end = map.barStart(map.barAt(last->played + last->shoved) + 2);
    return targetLines(session, map, {begin, end}, attacks);
}

/// Where strength and pocket bring a hit that lies `deviation` frames behind its line: its distance to the line.
std::int64_t leftOver(std::int64_t deviation, const TimingSettings& timing, SampleRate rate) {
    const std::int64_t pocket = toFrames(timing.pocket, rate).frames;
    if (std::abs(deviation) <= pocket)
        return deviation;
    const std::int64_t target = timing.pull == Pull::toLine ? 0 : deviation < 0 ? -pocket : pocket;
    return target + std::llround(static_cast<double>(deviation - target) * (1.0 - timing.strength / 100.0));
}

bool withinReach(FrameCount move, const TargetLine& line, const TimingSettings& timing, SampleRate rate) {
    if (!timing.reach)
        return true;
    const double farthest = timing.reach->inSteps
                                ? timing.reach->value * static_cast<double>(line.step.frames)
                                : static_cast<double>(toFrames(Milliseconds{timing.reach->value}, rate).frames);
    return static_cast<double>(std::abs(move.frames)) <= farthest;
}

void landOnLine(Landing& landing, const TargetLine& line, double confidence, const TimingSettings& timing,
                SampleRate rate) {
    const SongFrame from = landing.played + landing.shoved;
    landing.line = line;
    landing.meant = line.frame;
    landing.confidence = confidence;
    landing.at = asResult(line.frame) + FrameCount{leftOver((from - line.frame).frames, timing, rate)};
    landing.state = confidence < sure ? LandingState::doubtful : LandingState::landed;
    if (!withinReach(landing.at - asResult(from), line, timing, rate)) {
        landing.at = asResult(from);
        landing.state = LandingState::beyond;
    }
}

/// A hit of a drum that does not land.
void letGo(Landing& landing, DrumTiming drumTiming) {
    if (drumTiming == DrumTiming::land)
        return;
    landing.at = asResult(landing.played + landing.shoved);
    landing.state = drumTiming == DrumTiming::stay ? LandingState::pinned : LandingState::left;
}

/// The work of land(), step by step.
class Lander {
public:
    Lander(const Session& session, const MusicalMap& map, const Placed& where, std::span<const Hit> hits,
           std::span<const SongFrame> attacks)
        : session_(session), where_(where), hits_(hits), said_(session, session.takes[where.take].letter),
          landings_(hits.size()) {
        for (std::size_t i = 0; i < hits.size(); ++i) {
            Landing& landing = landings_[i];
            landing.played = landing.meant = hits[i].anchor + where.shift;
            landing.shoved = movedBy(session.shoves, take(), hits[i].found());
            landing.slipped = movedBy(session.slips, take(), hits[i].found());
            landing.at = asResult(landing.played + landing.shoved);
        }
        lines_ = linesAround(session, map, landings_, attacks);
    }

    std::vector<Landing> run() {
        landAlone();
        const auto phrases = phrasesOf(session_, where_, hits_);
        for (const PhraseHits& phrase : phrases) {
            landAnyway(phrase.first);
            landAnyway(phrase.last);
        }
        std::vector<bool> rides(landings_.size());
        for (std::size_t i = 0; i < landings_.size(); ++i)
            rides[i] = landings_[i].state == LandingState::left;
        keepProportions(phrases, landings_, rides);
        for (Landing& landing : landings_)
            landing.at = landing.at + landing.slipped;
        holdTogether(hits_, landings_, session_.takes[where_.take].length, session_.rate);
        return std::move(landings_);
    }

private:
    TakeLetter take() const { return session_.takes[where_.take].letter; }

    /// Lines for the hits that have an attack.
    std::vector<Assignment> assign() const {
        std::vector<HitToAssign> attacks;
        for (std::size_t i = 0; i < hits_.size(); ++i) {
            if (hits_[i].bare)
                continue;
            attacks.push_back({landings_[i].played + landings_[i].shoved, hits_[i].level, {}});
            const Correction* said = said_.about(hits_[i]);
            if (said && said->kind == Correction::Kind::line && !lines_.empty())
                attacks.back().sent = nearestLine(said->at + where_.shift + said->moved, lines_);
        }
        return session_.assign == Assign::path ? assignLines(attacks, lines_, session_.rate)
                                               : nearestLines(attacks, lines_);
    }

    void landAlone() {
        const auto assigned = assign();
        for (std::size_t i = 0, attack = 0; i < hits_.size(); ++i) {
            Landing& landing = landings_[i];
            const Assignment meant = hits_[i].bare ? Assignment{} : assigned[attack++];
            if (meant.line) {
                const TimingSettings timing = timingAt(lines_[*meant.line]);
                landOnLine(landing, lines_[*meant.line], meant.confidence, timing, session_.rate);
                letGo(landing, timing.drumTimings[static_cast<std::size_t>(hits_[i].voice)]);
            } else {
                landing.state = LandingState::left;
            }
            if (const Correction* said = said_.about(hits_[i]))
                obey(*said, landing);
        }
    }

    void obey(const Correction& said, Landing& landing) const {
        if (said.kind == Correction::Kind::line)
            return;
        landing.state = LandingState::pinned;
        landing.at = asResult(landing.played);
        if (said.kind == Correction::Kind::place) {
            landing.meant = said.at + where_.shift + said.moved;
            landing.at = asResult(landing.meant);
        }
    }

    /// The ends of a phrase land, whatever their drum does and even between lines.
    void landAnyway(std::size_t hit) {
        Landing& landing = landings_[hit];
        if (landing.state != LandingState::left || lines_.empty())
            return;
        const TargetLine line = landing.line.value_or(lines_[nearestLine(landing.played + landing.shoved, lines_)]);
        landOnLine(landing, line, surest, timingAt(line), session_.rate);
    }

    TimingSettings timingAt(const TargetLine& line) const { return session_.timingAt(line.place); }

    const Session& session_;
    const Placed& where_;
    std::span<const Hit> hits_;
    SaidOfLanding said_;
    std::vector<Landing> landings_;
    std::vector<TargetLine> lines_;
};

} // namespace

std::string_view name(LandingState state) {
    constexpr EnumNames<LandingState, LandingState::beyond> names{"landed", "left", "pinned", "doubtful", "beyond"};
    return names.of(state);
}

std::vector<Landing> land(const Session& session, const MusicalMap& map, const Placed& where,
                          std::span<const Hit> hits, std::span<const SongFrame> attacks) {
    return hits.empty() ? std::vector<Landing>{} : Lander(session, map, where, hits, attacks).run();
}

} // namespace lampo
