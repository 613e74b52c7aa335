#include "proof/stroke_places.h"

#include "base/text.h"
#include "proof/joined.h"
#include "seams/curve.h"

#include <algorithm>
#include <cmath>
#include <fmt/core.h>

namespace lampo {
namespace {

constexpr Milliseconds attackLength{10};
constexpr Milliseconds moment{250};   ///< farther apart, a stroke sounds twice because a bar is repeated
constexpr std::size_t nearSlices = 3; ///< on both sides of a seam in which a stroke near it may sound
constexpr Decibels faint{-18};        ///< softer strokes, against their drum's strong ones, are not told of

/// Where a stroke sounds, and how much of its power.
struct Heard {
    ResultFrame at;
    double share;
};

class StrokeProof {
public:
    StrokeProof(const Session& session, const Outcome& outcome)
        : session_(session), plan_(*outcome.plan), outcome_(outcome),
          attack_(toFrames(attackLength, session.rate)) {}

    std::vector<ProofPlace> run() {
        for (std::size_t i = 0; i < plan_.segments.size(); ++i)
            if (i == 0 || !goesOn(i))
                lookBefore(i);
        return std::move(found_);
    }

private:
    /// The source simply goes on from the segment before.
    bool goesOn(std::size_t i) const {
        const Segment &a = plan_.segments[i - 1], &b = plan_.segments[i];
        return a.take == b.take && a.shift == b.shift && !a.stretch && !b.stretch;
    }
    std::span<const Stroke> strokesOf(TakeIndex take, Range<SourceFrame> range) const {
        const auto& analysed = outcome_.takes[take];
        if (!analysed || !analysed->strokes)
            return {};
        const auto& all = analysed->strokes->strokes;
        const auto before = [](const Stroke& stroke, SourceFrame at) { return stroke.at < at; };
        const auto first = std::lower_bound(all.begin(), all.end(), range.begin, before);
        const auto last = std::lower_bound(first, all.end(), range.end, before);
        return {first, last};
    }
    double shareIn(const Segment& segment, SourceFrame at) const {
        double sum = 0;
        constexpr std::int64_t steps = 20;
        for (std::int64_t step = 0; step < steps; ++step) {
            const ResultFrame place = segment.placeOf(at + FrameCount{attack_.frames * step / steps});
            if (!segment.sounds.contains(place))
                continue;
            const auto gain = [](FrameCount into, FrameCount fade) {
                return fade.frames <= 0 ? 1.0 : std::clamp(ratio(into, fade), 0.0, 1.0);
            };
            const double in = gain(place - segment.sounds.begin, segment.fadeIn),
                         out = gain(segment.sounds.end - place, segment.fadeOut);
            sum += std::min(in, out); // powers of a constant power fade, about
        }
        return sum / static_cast<double>(steps);
    }
    /// Around the seam before a segment: what its sides hold of the strokes near it.
    void lookBefore(std::size_t i) {
        const Segment& later = plan_.segments[i];
        if (i == 0)
            return;
        const Segment& earlier = plan_.segments[i - 1];
        const FrameCount reach = toFrames(moment, session_.rate);
        const SourceFrame ends = earlier.sourceAt(earlier.sounds.end), begins = later.sourceAt(later.sounds.begin);
        if (!goesOnInItsTake(plan_, i, session_.rate))
            return; // at borders hits are chosen by the lines they mean
        const Range<SourceFrame> around{std::min(ends, begins) - attack_ - reach, std::max(ends, begins) + reach};
        for (const Stroke& stroke : strokesOf(later.take, around))
            if (stroke.level > faint)
                judge(i, stroke);
    }
    void judge(std::size_t i, const Stroke& stroke) {
        std::vector<Heard> heard;
        std::size_t from = i - 1, to = i + 1; // slices of one take that follow upon one another
        while (from > 0 && i - from < nearSlices && goesOnInItsTake(plan_, from, session_.rate))
            --from;
        while (to < plan_.segments.size() && to - i < nearSlices && goesOnInItsTake(plan_, to, session_.rate))
            ++to;
        bool before = false, behind = false; // the source passes the stroke in one of the segments
        for (std::size_t s = from; s < to; ++s) {
            const Segment& segment = plan_.segments[s];
            const SourceFrame begin = segment.sourceAt(segment.sounds.begin),
                              end = segment.sourceAt(segment.sounds.end);
            before = before || begin <= stroke.at;
            behind = behind || end > stroke.at;
            if (const double share = shareIn(segment, stroke.at); share > 0)
                heard.push_back({segment.placeOf(stroke.at), share});
        }
        if (!before || !behind)
            return;
        std::sort(heard.begin(), heard.end(), [](const Heard& a, const Heard& b) { return a.share > b.share; });
        const double most = heard.empty() ? 0 : heard.front().share;
        const ResultFrame at = heard.empty() ? plan_.segments[i].sounds.begin : heard.front().at;
        if (most < 0.5)
            tell(i, stroke, at, ProofKind::lostAttack, -10 * std::log10(std::max(most, 0.01)),
                 fmt::format("The attack of this {} is {}", name(stroke.voice),
                             most < 0.1 ? "not there" : "weaker than it was played"));
        // What sounds in both sides of one seam at one place is one stroke.
        for (std::size_t other = 1; other < heard.size(); ++other)
            if (heard[other].share > 1.0 / 16 &&
                abs(heard[other].at - at) > toFrames(Milliseconds{2}, session_.rate) &&
                abs(heard[other].at - at) < toFrames(moment, session_.rate)) {
                tell(i, stroke, heard[other].at, ProofKind::doubledAttack,
                     24 + 10 * std::log10(heard[other].share) + std::min(0.0, stroke.level.value),
                     fmt::format("This {} sounds twice, {} ms apart", name(stroke.voice),
                                 trimmedNumber(toMilliseconds(abs(heard[other].at - at), session_.rate).value, 0)));
                break;
            }
    }
    void tell(std::size_t segment, const Stroke& stroke, ResultFrame at, ProofKind kind, double size,
              std::string text) {
        const std::uint64_t content = contentOf(
            {static_cast<std::int64_t>(kind), session_.takes[plan_.segments[segment].take].letter.value,
             stroke.at.frame, (plan_.segments[segment].shift - plan_.segments[segment - 1].shift).frames});
        if (std::any_of(found_.begin(), found_.end(),
                        [&](const ProofPlace& told) { return told.kind == kind && told.where.begin == at; }))
            return;
        ProofPlace place{{at, at + attack_}, kind, size, std::move(text)};
        place.mics = onlyMic(stroke.mic);
        place.content = content;
        found_.push_back(std::move(place));
    }

    const Session& session_;
    const Plan& plan_;
    const Outcome& outcome_;
    FrameCount attack_;
    std::vector<ProofPlace> found_;
};

} // namespace

std::vector<ProofPlace> placesOfStrokes(const Session& session, const Outcome& outcome) {
    return StrokeProof(session, outcome).run();
}

} // namespace lampo
