#include "seams/planner.h"

#include <algorithm>

namespace lampo {
namespace {

/// The attacks of one slice in the source, and where the slice goes.
struct Slice {
    SourceFrame first;
    SourceFrame last;
    SourceToResult shift;
    FrameCount slipped; ///< part of the shift that leaves the slice's begin where it was
};

class Planner {
public:
    explicit Planner(const Session& session)
        : session_(session), before_(toFrames(keptBefore, session.rate)), after_(toFrames(keptAfter, session.rate)),
          leadIn_(std::max(toFrames(session.seams.leadIn, session.rate), before_)),
          shortest_(toFrames(shortestFade, session.rate)),
          fade_(std::max(toFrames(session.seams.fade, session.rate), shortest_)) {
        plan_.length = session.length();
    }

    Plan run(const Choice& choice) {
        for (const ChosenPiece& piece : choice.pieces) {
            if (!plan_.segments.empty() || piece.in.end > ResultFrame{0})
                comeIn(piece);
            sounding_ = !piece.silent();
            if (sounding_)
                joinHits(piece);
        }
        if (sounding_)
            finish(choice.pieces.back());
        return std::move(plan_);
    }

private:
    void comeIn(const ChosenPiece& piece) {
        const FrameCount length = piece.in.length();
        take_ = piece.piece.take.value_or(take_);
        if (sounding_)
            end(piece.in.end, length);
        if (!piece.silent())
            begin(piece.in.begin, piece.shiftIn, length);
        plan_.seams.push_back({piece.in, piece.silent() ? SeamKind::closed
                                         : sounding_    ? SeamKind::border
                                                        : SeamKind::opened});
    }

    void joinHits(const ChosenPiece& piece) {
        std::size_t hit = piece.first;
        const auto slice = [&](std::size_t i) {
            const Hit& at = piece.laid->hits[i];
            return Slice{at.first, at.last, piece.laid->shiftOf(i), piece.laid->landings[i].slipped};
        };
        Slice earlier{SourceFrame{0} - after_, SourceFrame{0} - after_, piece.shiftIn, {}};
        if (plan_.segments.empty()) {
            take_ = *piece.piece.take;
            begin({0}, piece.shiftIn, {});
        }
        if (piece.in.end > ResultFrame{0} || piece.first > 0) {
            if (piece.first == piece.end)
                return;
            earlier = slice(hit++);
        }
        for (; hit < piece.end; ++hit) {
            const Slice later = slice(hit);
            join(earlier, later);
            earlier = later;
        }
    }

    /// The end of the files is in place again, so that the last tail is neither cut short nor runs out.
    void finish(const ChosenPiece& piece) {
        const ResultFrame end{plan_.length.frames};
        plan_.segments.back().sounds.end = end;
        if (!endsWithItsTake(session_, piece) || piece.shiftOut == asResult(piece.piece.shift))
            return;
        const Segment& last = plan_.segments.back();
        const SourceFrame quiet = last.sourceAt(last.sounds.begin + last.fadeIn) - after_;
        const SourceFrame fileEnd = SourceFrame{session_.takes[take_].length.frames} + before_;
        const SourceFrame attack = piece.end > piece.first ? piece.laid->hits[piece.end - 1].last : quiet;
        join({attack, attack, piece.shiftOut, {}}, {fileEnd, fileEnd, asResult(piece.piece.shift), {}});
        plan_.segments.back().sounds.end = end;
    }

    void begin(ResultFrame at, SourceToResult shift, FrameCount fadeIn) {
        plan_.segments.push_back({take_, shift, {at, at}, fadeIn, {}});
    }

    void end(ResultFrame at, FrameCount fadeOut) {
        plan_.segments.back().sounds.end = at;
        plan_.segments.back().fadeOut = fadeOut;
    }

    void crossfade(ResultFrame at, FrameCount length, SourceToResult shift, SeamKind kind) {
        end(at + length, length);
        begin(at, shift, length);
        plan_.seams.push_back({{at, at + length}, kind});
    }

    void join(const Slice& a, const Slice& b) {
        const FrameCount opened = b.shift - a.shift;
        if (opened == FrameCount{0})
            return cutOnly(a, b);
        if (opened > FrameCount{0} && session_.seams.fill == Fill::open)
            return leaveOpen(a, b);
        const FrameCount room = b.first - a.last - after_ - before_ - shortest_;
        const std::int64_t times =
            opened <= room ? 1 : (opened.frames + room.frames - 1) / std::max<std::int64_t>(1, room.frames);
        const SeamKind kind = opened < FrameCount{0} ? SeamKind::crossfade
                              : times == 1           ? SeamKind::borrowed
                                                     : SeamKind::repeated;
        SourceToResult from = a.shift;
        for (std::int64_t step = 1; step <= times; ++step) {
            const SourceToResult to = a.shift + FrameCount{opened.frames * step / times};
            seamBetween(a, b, from, to, kind);
            from = to;
        }
    }

    /// Both slices moved alike: they are one piece of source, and the cut is only a place.
    void cutOnly(const Slice& a, const Slice& b) {
        const SourceFrame cut = std::max(a.last + after_, b.first - leadIn_);
        const ResultFrame at = cut + b.shift;
        if (cut > b.first - before_ || at <= plan_.segments.back().sounds.begin + plan_.segments.back().fadeIn)
            return;
        end(at, {});
        begin(at, b.shift, {});
    }

    /// The stretch in which neither side holds an attack, in result frames, and the seam at its late end.
    void seamBetween(const Slice& a, const Slice& b, SourceToResult from, SourceToResult to, SeamKind kind) {
        const ResultFrame earliest = a.last + after_ + std::max(from, to);
        const ResultFrame latest = b.first - before_ + std::min(from, to);
        // The edges of a slipped passage stay where they were; inside one, seams go with the sound.
        const bool edge = a.slipped != b.slipped;
        const ResultFrame wanted =
            b.first - leadIn_ + (edge ? std::min(from + -a.slipped, to + -b.slipped) : std::min(from, to));
        // Where a tail is repeated, one seam is over before the next begins.
        const FrameCount length = kind == SeamKind::repeated ? std::min({fade_, latest - earliest, to - from})
                                                             : std::min(fade_, latest - earliest);
        const ResultFrame last = std::clamp(wanted, earliest + length, latest);
        crossfade(last - length, length, to, kind);
    }

    void leaveOpen(const Slice& a, const Slice& b) {
        const SourceFrame cut = std::clamp(b.first - leadIn_, a.last + after_ + shortest_, b.first - before_);
        // The fade out ends at the cut, the fade in begins there, each in its own slice.
        const FrameCount out = std::min(fade_, cut - (a.last + after_));
        const FrameCount in = std::min(fade_, (b.first - before_) - cut);
        const ResultFrame holeBegin = cut + a.shift;
        const ResultFrame holeEnd = cut + b.shift;
        end(holeBegin, out);
        plan_.seams.push_back({{holeBegin - out, holeBegin}, SeamKind::closed});
        begin(holeEnd, b.shift, in);
        plan_.seams.push_back({{holeEnd, holeEnd + in}, SeamKind::opened});
    }

    const Session& session_;
    FrameCount before_;
    FrameCount after_;
    FrameCount leadIn_;
    FrameCount shortest_;
    FrameCount fade_;
    TakeIndex take_; ///< that sounds
    bool sounding_ = false;
    Plan plan_;
};

} // namespace

Plan planSlices(const Session& session, const Choice& choice) {
    return Planner(session).run(choice);
}

} // namespace lampo
