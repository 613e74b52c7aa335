#include "advice/take_advice.h"

#include "session/seams_by_place.h"

#include "audio/audio_reader.h"
#include "comp/alignment.h"
#include "map/musical_map.h"

#include <algorithm>
#include <cmath>
#include <fmt/core.h>

namespace lampo {
namespace {

// Of a border over ringing cymbals; common practice, no source.
constexpr Milliseconds listened{50}; ///< of the sound just before the border
constexpr Decibels audibleRing{-30}; ///< against the mic's loudest stroke
constexpr Milliseconds shortestLong{25};
constexpr Milliseconds longestLong{80};
constexpr Decibels cymbalStroke{-6};
constexpr Milliseconds sameStroke{25};

std::vector<std::shared_ptr<const LaidTake>> ownLays(const Session& session, const Outcome& outcome,
                                                     TakeIndex take) {
    std::vector<std::shared_ptr<const LaidTake>> lays;
    for (const FormPart& part : session.form)
        if (auto laid = ownLay(session, outcome, take, part.begin))
            lays.push_back(std::move(laid));
    return lays;
}

Range<SongFrame> wholeSong(const Session& session) {
    return {SongFrame{0}, SongFrame{0} + session.length()};
}

FrameCount medianLateness(const LaidTake& laid, Range<SongFrame> within) {
    std::vector<std::int64_t> late;
    for (const Landing& landing : laid.landings)
        if (landing.line && within.contains(landing.meant))
            late.push_back((landing.played - landing.line->frame).frames);
    if (late.empty())
        return {};
    const auto middle = late.begin() + static_cast<std::ptrdiff_t>(late.size() / 2);
    std::nth_element(late.begin(), middle, late.end());
    return FrameCount{*middle};
}

/// The mics that hear cymbals best: their own or the hat's, and the overheads; all, where there are none.
std::vector<MicIndex> cymbalMics(const Session& session, const Take& take) {
    std::vector<MicIndex> found, all;
    for (MicIndex mic; mic < session.mics.size(); ++mic) {
        if (take.files[mic].empty())
            continue;
        const Role role = session.mics[mic].role;
        all.push_back(mic);
        if (role == Role::hat || role == Role::cymbal || role == Role::overhead)
            found.push_back(mic);
    }
    return found.empty() ? all : found;
}

Expected<Decibels> levelOf(AudioReader& reader, SourceFrame at, std::size_t frames) {
    std::vector<float> sound(frames);
    if (auto read = reader.read(at, sound); !read)
        return tl::unexpected(read.error());
    double power = 0;
    for (const float sample : sound)
        power += static_cast<double>(sample) * sample;
    return Decibels{10 * std::log10(power / static_cast<double>(frames) + 1e-20)};
}

/// How loud a mic is just before a place, against just behind its loudest stroke; none when it has none.
Expected<std::optional<Decibels>> ringOf(const Session& session, const SourceFile& file, const MicAnalysis& heard,
                                         SourceFrame border) {
    const auto loudest = std::max_element(heard.candidates.begin(), heard.candidates.end(),
                                          [](const Candidate& a, const Candidate& b) { return a.level < b.level; });
    if (loudest == heard.candidates.end())
        return std::nullopt;
    auto reader = AudioReader::open(file, session.rate);
    if (!reader)
        return tl::unexpected(reader.error());
    const FrameCount length = toFrames(listened, session.rate);
    const auto frames = static_cast<std::size_t>(length.frames);
    const auto stroke = levelOf(*reader, loudest->at, frames);
    const auto ring = levelOf(*reader, border - length, frames);
    if (!stroke || !ring)
        return tl::unexpected(stroke ? ring.error() : stroke.error());
    return Decibels{ring->value - stroke->value};
}

Milliseconds fadeFor(Decibels ring) {
    const double above = std::clamp((ring.value - audibleRing.value) / 20, 0.0, 1.0);
    return {std::round(shortestLong.value + above * (longestLong.value - shortestLong.value))};
}

/// The nearest strong cymbal stroke of the piece that comes in, within a bar of the border.
std::optional<SongFrame> cymbalStrokeNear(const Session& session, const Outcome& outcome, const ChosenPiece& in,
                                          const std::vector<MicIndex>& mics) {
    const MusicalMap map(session.map, session.rate);
    const SongFrame border = in.piece.range.begin;
    const int bar = map.barAt(border);
    const Range<SongFrame> near{map.barStart(bar - 1), map.barStart(bar + 2)};
    std::optional<SongFrame> nearest;
    for (const MicIndex mic : mics) {
        const auto& heard = outcome.takes[in.laid->where.take]->mics[mic];
        if (!heard)
            continue;
        for (const Candidate& candidate : heard->candidates) {
            const SongFrame at = candidate.at + in.laid->where.shift;
            if (candidate.level < cymbalStroke || !near.contains(at))
                continue;
            if (!nearest || abs(at - border) < abs(*nearest - border))
                nearest = at;
        }
    }
    if (!nearest)
        return std::nullopt;
    for (const Landing& landing : in.laid->landings) // a border belongs in front of what the stroke means
        if (abs(landing.played - *nearest) <= toFrames(sameStroke, session.rate))
            return landing.meant;
    return *nearest - toFrames(SeamsByPlace(session).at(*nearest).leadIn, session.rate);
}

} // namespace

TakeMeasures measureTakes(const Session& session, const Outcome& outcome) {
    std::vector<std::vector<std::shared_ptr<const LaidTake>>> lays;
    for (TakeIndex take; take < session.takes.size(); ++take)
        lays.push_back(ownLays(session, outcome, take));
    return measureTakes(session, MusicalMap(session.map, session.rate), lays);
}

Edit suggestedCompEdit(const Session& session, const TakeMeasures& measures) {
    return LayPassages{wholeSong(session), suggestedComp(session, MusicalMap(session.map, session.rate), measures),
                       "Suggested comp"};
}

Edit ratedCompEdit(const Session& session) {
    return LayPassages{wholeSong(session), ratedComp(session, MusicalMap(session.map, session.rate)),
                       "Rated bars together"};
}

Expected<Edit> alignTakesEdit(const Session& session, const Outcome& outcome, TakeIndex take, TakeIndex with) {
    const auto alignment =
        alignmentOf(outcome.takes[with]->found.hits, outcome.takes[take]->found.hits, session.rate);
    if (!alignment)
        return fail(ErrorKind::badValue,
                    fmt::format("Take {} and take {} have too few strokes in common to be lined up",
                                session.takes[take].letter.text(), session.takes[with].letter.text()));
    return SetTakeStart{take, session.takes[with].start - alignment->later};
}

Expected<Edit> graftEdit(const Session& session, const Outcome& outcome, const GraftSource& source, SongFrame to,
                         bool exactly) {
    const auto& [take, from] = source;
    const auto moved = movedAt(session.form, from.begin);
    const auto laid = ownLay(session, outcome, take, from.begin);
    if (!moved || !laid)
        return fail(ErrorKind::badValue, "There is nothing in these bars to take from");
    const MusicalMap map(session.map, session.rate);
    const BarBeat begin = map.barBeat(from.begin), end = map.barBeat(from.end), target = map.barBeat(to);
    const bool onBeats = std::abs(begin.beat - target.beat) < 1e-3;
    const SongFrame targetEnd = onBeats ? map.at({target.bar + end.bar - begin.bar, end.beat}) : to + from.length();
    const FrameCount graft = *moved + (to - from.begin) - (exactly ? FrameCount{} : medianLateness(*laid, from));
    return Lay{{to, std::max(targetEnd, to + FrameCount{1})}, take, graft};
}

Expected<BorderAdvice> adviseOnBorder(const Session& session, const Outcome& outcome, std::size_t passage) {
    const auto& pieces = outcome.choice.pieces;
    const auto in = std::find_if(pieces.begin(), pieces.end(),
                                 [&](const ChosenPiece& piece) { return piece.piece.passage == passage; });
    if (in == pieces.begin() || in == pieces.end() || in->silent() || std::prev(in)->silent())
        return fail(ErrorKind::badValue, "There is no border between two takes here");
    const ChosenPiece& out = *std::prev(in);
    const TakeIndex outTake = out.laid->where.take;
    const SourceFrame border = in->in.begin - out.shiftOut;
    BorderAdvice advice;
    for (const MicIndex mic : cymbalMics(session, session.takes[outTake])) {
        const auto& heard = outcome.takes[outTake]->mics[mic];
        if (!heard)
            continue;
        const auto ring = ringOf(session, session.takes[outTake].files[mic], *heard, border);
        if (!ring)
            return tl::unexpected(ring.error());
        if (*ring)
            advice.ring = std::max(advice.ring, **ring);
    }
    advice.ringsAcross = advice.ring >= audibleRing;
    if (!advice.ringsAcross)
        return advice;
    advice.fade = fadeFor(advice.ring);
    advice.before =
        cymbalStrokeNear(session, outcome, *in, cymbalMics(session, session.takes[in->laid->where.take]));
    if (advice.before == in->piece.range.begin)
        advice.before.reset();
    return advice;
}

} // namespace lampo
