#include "seams/planner.h"

#include <algorithm>

namespace lampo {
namespace {

/// The attacks of one slice in the source, and where the slice goes.
struct Slice {
    SourceFrame first;
    SourceFrame last;
    FrameCount shift;
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

    Plan run(std::span<const Hit> hits, std::span<const Landing> landings) {
        const Take& take = session_.take();
        Slice earlier{SourceFrame{0} - after_, SourceFrame{0} - after_, take.start};
        begin({0}, earlier.shift, {});
        for (std::size_t i = 0; i < hits.size(); ++i) {
            const Slice later{hits[i].first, hits[i].last, take.start + landings[i].move()};
            join(earlier, later);
            earlier = later;
        }
        // The end of the files is in place again, so that the last tail is neither cut short nor runs out.
        const SourceFrame end = SourceFrame{take.length.frames} + before_;
        if (earlier.shift != take.start)
            join(earlier, {end, end, take.start});
        plan_.segments.back().sounds.end = ResultFrame{plan_.length.frames};
        return std::move(plan_);
    }

private:
    void begin(ResultFrame at, FrameCount shift, FrameCount fadeIn) {
        plan_.segments.push_back({session_.sounding, shift, {at, at}, fadeIn, {}});
    }

    void end(ResultFrame at, FrameCount fadeOut) {
        plan_.segments.back().sounds.end = at;
        plan_.segments.back().fadeOut = fadeOut;
    }

    void crossfade(ResultFrame at, FrameCount length, FrameCount shift, SeamKind kind) {
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
        FrameCount from = a.shift;
        for (std::int64_t step = 1; step <= times; ++step) {
            const FrameCount to = a.shift + FrameCount{opened.frames * step / times};
            seamBetween(a, b, from, to, kind);
            from = to;
        }
    }

    /// Both slices moved alike: they are one piece of source, and the cut is only a place.
    void cutOnly(const Slice& a, const Slice& b) {
        const SourceFrame cut = std::max(a.last + after_, b.first - leadIn_);
        const ResultFrame at = ResultFrame{cut.frame} + b.shift;
        if (cut > b.first - before_ || at <= plan_.segments.back().sounds.begin + plan_.segments.back().fadeIn)
            return;
        end(at, {});
        begin(at, b.shift, {});
    }

    /// The stretch in which neither side holds an attack, in result frames, and the seam at its late end.
    void seamBetween(const Slice& a, const Slice& b, FrameCount from, FrameCount to, SeamKind kind) {
        const ResultFrame earliest = ResultFrame{(a.last + after_).frame} + std::max(from, to);
        const ResultFrame latest = ResultFrame{(b.first - before_).frame} + std::min(from, to);
        const ResultFrame wanted = ResultFrame{(b.first - leadIn_).frame} + std::min(from, to);
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
        const ResultFrame holeBegin = ResultFrame{cut.frame} + a.shift;
        const ResultFrame holeEnd = ResultFrame{cut.frame} + b.shift;
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
    Plan plan_;
};

} // namespace

Plan planSlices(const Session& session, std::span<const Hit> hits, std::span<const Landing> landings) {
    return Planner(session).run(hits, landings);
}

} // namespace lampo
