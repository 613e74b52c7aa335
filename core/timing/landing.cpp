#include "timing/landing.h"

#include "timing/assignment.h"

#include <algorithm>
#include <cmath>

namespace lampo {
namespace {

/// Below this the next best line is nearly as likely.
constexpr double sure = 2.0;

const Correction* correctionOf(const Session& session, const Placed& where, const Hit& hit) {
    for (const Correction& correction : session.corrections)
        if ((correction.kind == Correction::Kind::pin || correction.kind == Correction::Kind::place) &&
            correction.take == session.takes[where.take].letter &&
            std::abs((correction.at - hit.found()).frames) <= correctionTolerance.frames)
            return &correction;
    return nullptr;
}

std::vector<GridLine> linesAround(const Session& session, const MusicalMap& map,
                                  std::span<const Landing> landings) {
    // One bar more on both sides: the first and the last hit may mean a line outside.
    const SongFrame begin = map.barStart(map.barAt(landings.front().played) - 1);
    const SongFrame end = map.barStart(map.barAt(landings.back().played) + 2);
    return gridLines(map, {begin, end}, [&](int bar) {
        const TimingSettings timing = session.timingOf(bar);
        return GridRule(timing.grid, timing.swing);
    });
}

/// Where strength and pocket bring a hit that lies `deviation` frames behind its line: its distance to the line.
std::int64_t leftOver(std::int64_t deviation, const TimingSettings& timing, SampleRate rate) {
    const std::int64_t pocket = toFrames(timing.pocket, rate).frames;
    if (std::abs(deviation) <= pocket)
        return deviation;
    const std::int64_t target = timing.pull == Pull::toLine ? 0 : deviation < 0 ? -pocket : pocket;
    return target + std::llround(static_cast<double>(deviation - target) * (1.0 - timing.strength / 100.0));
}

bool withinReach(FrameCount move, const GridLine& line, const TimingSettings& timing, SampleRate rate) {
    if (!timing.reach)
        return true;
    const double farthest = timing.reach->inSteps
                                ? timing.reach->value * static_cast<double>(line.step.frames)
                                : static_cast<double>(toFrames(Milliseconds{timing.reach->value}, rate).frames);
    return static_cast<double>(std::abs(move.frames)) <= farthest;
}

void landOnLine(Landing& landing, const GridLine& line, double confidence, const TimingSettings& timing,
                SampleRate rate) {
    landing.line = line;
    landing.meant = line.frame;
    landing.confidence = confidence;
    landing.at = asResult(line.frame) + FrameCount{leftOver((landing.played - line.frame).frames, timing, rate)};
    landing.state = confidence < sure ? LandingState::doubtful : LandingState::landed;
    if (!withinReach(landing.move(), line, timing, rate)) {
        landing.at = asResult(landing.played);
        landing.state = LandingState::beyond;
    }
}

/// A hit of a drum that does not land.
void letGo(Landing& landing, Going going) {
    if (going == Going::land)
        return;
    landing.at = asResult(landing.played);
    landing.state = going == Going::stay ? LandingState::pinned : LandingState::left;
}

/// What lies between the moves of the neighbours, in proportion to when it was played.
struct Between {
    const Landing* before;
    const Landing* after;

    /// `moveOf` a neighbour, in frames.
    FrameCount at(SongFrame played, auto&& moveOf) const {
        if (!before || !after)
            return before || after ? moveOf(before ? *before : *after) : FrameCount{};
        const auto span = static_cast<double>((after->played - before->played).frames);
        const double along = span > 0 ? static_cast<double>((played - before->played).frames) / span : 0;
        return {std::llround(static_cast<double>(moveOf(*before).frames) * (1 - along) +
                             static_cast<double>(moveOf(*after).frames) * along)};
    }
};

/// Hits without a line move by what lies between their neighbours' moves, so a roll keeps its proportions.
void rideBetween(std::span<Landing> landings) {
    const auto anchored = [](const Landing& landing) { return landing.state != LandingState::left; };
    const auto move = [](const Landing& landing) { return landing.move(); };
    const auto wholeMove = [](const Landing& landing) { return landing.meant - landing.played; };
    std::size_t i = 0;
    while (i < landings.size()) {
        if (anchored(landings[i])) {
            ++i;
            continue;
        }
        std::size_t end = i;
        while (end < landings.size() && !anchored(landings[end]))
            ++end;
        const Between neighbours{i > 0 ? &landings[i - 1] : nullptr,
                                 end < landings.size() ? &landings[end] : nullptr};
        for (; i < end; ++i) {
            Landing& rider = landings[i];
            rider.at = asResult(rider.played) + neighbours.at(rider.played, move);
            rider.meant = rider.played + neighbours.at(rider.played, wholeMove);
        }
    }
}

int authorityOf(const Landing& landing) {
    switch (landing.state) {
    case LandingState::pinned:
        return 3;
    case LandingState::landed:
    case LandingState::beyond:
        return 2;
    case LandingState::doubtful:
        return 1;
    case LandingState::left:
        return 0;
    }
    return 0;
}

/// A run of neighbouring hits that move as one. The two ends of the files are runs as well, which never move.
struct Bundle {
    std::size_t hits;  ///< how many
    SourceFrame first; ///< start of the first attack
    SourceFrame last;  ///< start of the last attack
    FrameCount move;
    std::pair<int, double> authority; ///< decides whose move two joined runs take
};

/// Joins neighbours that cannot be cut apart with every attack whole: too near as played, too near (or in the
/// wrong order) as landed, or drawn so far apart that their short tail would have to be repeated over and over.
class Bundler {
public:
    explicit Bundler(SampleRate rate)
        : before_(toFrames(keptBefore, rate)), after_(toFrames(keptAfter, rate)),
          fade_(toFrames(shortestFade, rate)) {}

    std::vector<Bundle> join(std::span<const Hit> hits, std::span<const Landing> landings, FrameCount length) {
        constexpr std::pair unmoved{9, 0.0};
        push({0, SourceFrame{0} - after_, SourceFrame{0} - after_, {}, unmoved});
        for (std::size_t i = 0; i < hits.size(); ++i)
            push({1,
                  hits[i].first,
                  hits[i].last,
                  landings[i].move(),
                  {authorityOf(landings[i]), hits[i].level.value}});
        const SourceFrame end = SourceFrame{length.frames} + before_;
        push({0, end, end, {}, unmoved});
        return std::move(bundles_);
    }

private:
    static constexpr std::int64_t mostRepeats = 4;

    bool separable(const Bundle& a, const Bundle& b) const {
        if (a.move == b.move)
            return true;
        const FrameCount played = b.first - a.last;
        const FrameCount opened = b.move - a.move;
        const FrameCount room = played - before_ - after_ - fade_;
        return room.frames >= 0 && room + opened >= FrameCount{0} && opened.frames <= room.frames * mostRepeats;
    }

    void push(Bundle next) {
        while (!bundles_.empty() && !separable(bundles_.back(), next)) {
            const Bundle& last = bundles_.back();
            const Bundle& leader = next.authority > last.authority ? next : last;
            next = {last.hits + next.hits, last.first, next.last, leader.move, leader.authority};
            bundles_.pop_back();
        }
        bundles_.push_back(next);
    }

    FrameCount before_;
    FrameCount after_;
    FrameCount fade_;
    std::vector<Bundle> bundles_;
};

void holdTogether(std::span<Landing> landings, const std::vector<Bundle>& bundles) {
    auto landing = landings.begin();
    for (const Bundle& bundle : bundles)
        for (std::size_t hit = 0; hit < bundle.hits; ++hit, ++landing) {
            if (landing->move() == bundle.move)
                continue;
            landing->heldTogether = true;
            landing->at = asResult(landing->played) + bundle.move;
            if (landing->state != LandingState::pinned)
                landing->state = LandingState::left;
        }
}

} // namespace

std::string_view name(LandingState state) {
    switch (state) {
    case LandingState::landed:
        return "landed";
    case LandingState::left:
        return "left";
    case LandingState::pinned:
        return "pinned";
    case LandingState::doubtful:
        return "doubtful";
    case LandingState::beyond:
        return "beyond";
    }
    return "";
}

std::vector<Landing> land(const Session& session, const MusicalMap& map, const Placed& where,
                          std::span<const Hit> hits) {
    std::vector<Landing> landings(hits.size());
    if (hits.empty())
        return landings;
    std::vector<SongFrame> attacks; // of the hits that have one
    for (std::size_t i = 0; i < hits.size(); ++i) {
        landings[i].played = landings[i].meant = asPlayed(hits[i].anchor, where.shift);
        landings[i].at = asResult(landings[i].played);
        if (!hits[i].bare)
            attacks.push_back(landings[i].played);
    }
    const auto lines = linesAround(session, map, landings);
    const auto assigned =
        session.assign == Assign::path ? assignLines(attacks, lines, session.rate) : nearestLines(attacks, lines);
    for (std::size_t i = 0, attack = 0; i < hits.size(); ++i) {
        Landing& landing = landings[i];
        const Assignment meant = hits[i].bare ? Assignment{} : assigned[attack++];
        if (const auto& line = meant.line) {
            const TimingSettings timing = session.timingOf(lines[*line].place.bar);
            landOnLine(landing, lines[*line], meant.confidence, timing, session.rate);
            letGo(landing, timing.goings[static_cast<std::size_t>(hits[i].voice)]);
        } else {
            landing.state = LandingState::left;
        }
        if (const Correction* correction = correctionOf(session, where, hits[i])) {
            landing.state = LandingState::pinned;
            landing.at = asResult(landing.played);
            if (correction->kind == Correction::Kind::place) {
                landing.meant = asPlayed(correction->at, where.shift) + correction->moved;
                landing.at = asResult(landing.meant);
            }
        }
    }
    rideBetween(landings);
    holdTogether(landings, Bundler(session.rate).join(hits, landings, session.takes[where.take].length));
    return landings;
}

} // namespace lampo
