#include "comp/choice.h"

#include "session/seams_by_place.h"

#include <algorithm>
#include <limits>

namespace lampo {
namespace {

/// How far a border may be moved to find quiet.
constexpr Seconds farthestWay{2};

constexpr ResultFrame longAgo{std::numeric_limits<std::int64_t>::min() / 2};
constexpr ResultFrame never{std::numeric_limits<std::int64_t>::max() / 2};

struct Sides {
    std::size_t outEnd;  ///< first hit of the piece that goes out which does not sound
    std::size_t inFirst; ///< first hit of the piece that comes in which sounds
};

class Chooser {
public:
    Chooser(const Session& session, const LaidTakeOf& laidTakeOf)
        : session_(session), laidTakeOf_(laidTakeOf), before_(toFrames(keptBefore, session.rate)),
          after_(toFrames(keptAfter, session.rate)), shortest_(toFrames(shortestFade, session.rate)),
          rules_(session) {}

    Choice run() {
        for (const Piece& piece : piecesOf(session_)) {
            ChosenPiece next{piece, piece.take ? laidTakeOf_(piece) : nullptr, 0, 0, {}, {}, {}, {}};
            next.meant = piece.range.begin;
            if (choice_.pieces.empty())
                begin(std::move(next));
            else
                enter(std::move(next), piece.range.end);
        }
        if (!choice_.pieces.empty() && !last().silent()) {
            const SongFrame end = last().piece.range.end;
            if (endsWithItsTake(session_, last()))
                finish(last(), last().laid->hits.size());
            else
                enter(ChosenPiece{{{end, end}, std::nullopt, {}, 0}, nullptr, 0, 0, {}, {}, {}, end},
                      end + FrameCount{1});
        }
        return std::move(choice_);
    }

private:
    FrameCount leadInAt(SongFrame place) const {
        return std::max(toFrames(rules_.at(place).leadIn, session_.rate), before_);
    }
    ChosenPiece& last() { return choice_.pieces.back(); }

    void begin(ChosenPiece first) {
        first.in = {ResultFrame{0}, ResultFrame{0}};
        first.shiftIn = first.shiftOut = asResult(first.piece.shift);
        if (!first.silent()) {
            // Of a take that begins before the song, what lies before the song does not sound.
            const auto& landings = first.laid->landings;
            first.first = static_cast<std::size_t>(
                std::partition_point(landings.begin(), landings.end(),
                                     [](const Landing& l) { return l.at < ResultFrame{0}; }) -
                landings.begin());
            if (first.first > 0)
                first.shiftIn = first.shiftOut = shiftAt(first, first.first);
        }
        choice_.pieces.push_back(std::move(first));
    }

    static std::size_t firstMeaning(const ChosenPiece& piece, SongFrame place) {
        if (piece.silent())
            return 0;
        const auto& landings = piece.laid->landings;
        return static_cast<std::size_t>(std::partition_point(landings.begin(), landings.end(),
                                                             [&](const Landing& l) { return l.meant < place; }) -
                                        landings.begin());
    }

    /// The shift of a piece's material around one of its hits; without hits, that of what is nearest.
    static SourceToResult shiftAt(const ChosenPiece& piece, std::size_t hit) {
        const auto& laid = *piece.laid;
        return laid.hits.empty() ? asResult(piece.piece.shift) : laid.shiftOf(std::min(hit, laid.hits.size() - 1));
    }
    SourceToResult shiftOutOf(const ChosenPiece& piece, std::size_t end) const {
        return end > piece.first ? shiftAt(piece, end - 1) : piece.shiftIn;
    }

    /// Where the piece that goes out is quiet: behind its last attack and before the first that does not sound.
    Range<ResultFrame> quietOut(const ChosenPiece& out, std::size_t end) const {
        if (out.silent())
            return {longAgo, never};
        const auto& hits = out.laid->hits;
        const SourceToResult shift = shiftOutOf(out, end);
        const ResultFrame floor = out.in.end;
        return {end > out.first ? std::max(floor, hits[end - 1].last + after_ + shift) : floor,
                end < hits.size() ? hits[end].first - before_ + shift : never};
    }
    /// Where the piece that comes in is quiet: behind the last attack that does not sound and before its first.
    Range<ResultFrame> quietIn(const ChosenPiece& in, std::size_t first) const {
        if (in.silent())
            return {longAgo, never};
        const auto& hits = in.laid->hits;
        const SourceToResult shift = shiftAt(in, first);
        return {first > 0 ? hits[first - 1].last + after_ + shift : longAgo,
                first < hits.size() ? hits[first].first - before_ + shift : never};
    }

    /// The seam's place, or none where the two sides are not quiet at once.
    std::optional<Range<ResultFrame>> seamFor(const ChosenPiece& in, const Sides& sides, SongFrame place,
                                              Range<ResultFrame> quiet) {
        if (quiet.length() < shortest_)
            return std::nullopt;
        const FrameCount fade = std::max(
            toFrames(session_.comp.fadeAt(in.piece.range.begin).value_or(session_.seams.fade), session_.rate),
            shortest_);
        const FrameCount length = std::min(fade, quiet.length());
        ResultFrame end = asResult(place) + FrameCount{in.silent() ? 0 : length.frames / 2};
        if (!in.silent() && sides.inFirst < in.laid->hits.size())
            end = std::min(end, in.laid->hits[sides.inFirst].first - leadInAt(place) + shiftAt(in, sides.inFirst));
        end = std::clamp(end, quiet.begin + length, quiet.end);
        if (end - length < ResultFrame{0})
            return std::nullopt;
        return Range<ResultFrame>{end - length, end};
    }

    /// Other places for a border, nearest first: before or behind any hit around it.
    std::vector<SongFrame> placesNear(const ChosenPiece& in, SongFrame border, SongFrame limit) {
        const FrameCount way = toFrames(farthestWay, session_.rate);
        const SongFrame earliest = std::max(border - way, last().meant + FrameCount{1});
        const SongFrame latest = std::min(border + way, limit - FrameCount{1});
        std::vector<SongFrame> places;
        for (const ChosenPiece* piece : {static_cast<const ChosenPiece*>(&last()), &in}) {
            for (std::size_t hit = firstMeaning(*piece, earliest);
                 !piece->silent() && hit < piece->laid->hits.size() && piece->laid->landings[hit].meant <= latest;
                 ++hit)
                for (const SongFrame place :
                     {piece->laid->landings[hit].meant, piece->laid->landings[hit].meant + FrameCount{1}})
                    if (earliest <= place && place <= latest)
                        places.push_back(place);
        }
        std::sort(places.begin(), places.end(),
                  [&](SongFrame a, SongFrame b) { return abs(a - border) < abs(b - border); });
        return places;
    }

    bool enterAt(ChosenPiece& in, SongFrame place) {
        Sides sides{firstMeaning(last(), place), firstMeaning(in, place)};
        sides.outEnd = std::max(sides.outEnd, last().first);
        const auto quiet = quietOut(last(), sides.outEnd).intersected(quietIn(in, sides.inFirst));
        const auto seam = seamFor(in, sides, place, quiet);
        if (!seam)
            return false;
        if (!last().silent())
            finish(last(), sides.outEnd);
        in.in = *seam;
        in.quiet = quiet;
        in.meant = place;
        in.first = sides.inFirst;
        in.shiftIn = in.silent() ? SourceToResult{} : shiftAt(in, in.first);
        choice_.pieces.push_back(std::move(in));
        return true;
    }

    void enter(ChosenPiece in, SongFrame limit) {
        const SongFrame border = in.piece.range.begin;
        if (enterAt(in, border))
            return;
        for (const SongFrame place : placesNear(in, border, limit))
            if (enterAt(in, place))
                return;
        choice_.crowded.push_back({border});
        last().piece.range.end = limit;
        if (in.silent() && in.piece.range.empty())
            finish(last(), firstMeaning(last(), border));
    }

    void finish(ChosenPiece& piece, std::size_t end) {
        piece.end = end;
        piece.shiftOut = shiftOutOf(piece, end);
    }

    const Session& session_;
    const LaidTakeOf& laidTakeOf_;
    FrameCount before_;
    FrameCount after_;
    FrameCount shortest_;
    SeamsByPlace rules_;
    Choice choice_;
};

} // namespace

bool endsWithItsTake(const Session& session, const ChosenPiece& piece) {
    return !piece.silent() &&
           SourceFrame{0} + session.takes[*piece.piece.take].length + piece.piece.shift == piece.piece.range.end;
}

Choice chooseHits(const Session& session, const LaidTakeOf& laidTakeOf) {
    return Chooser(session, laidTakeOf).run();
}

} // namespace lampo
