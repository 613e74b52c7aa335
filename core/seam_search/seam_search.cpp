#include "seam_search/seam_search.h"

#include "base/parallel.h"
#include "seam_search/sides.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <map>
#include <mutex>

namespace lampo {
namespace {

constexpr Milliseconds binLength{0.5}; ///< of what is summed up: as finely as a place matters
constexpr std::size_t windowBins = 16; ///< 8 ms: what one hears as a dip
constexpr std::size_t fineBins = 4;    ///< 2 ms: what roughens a tone
/// What a place costs for each bin that it lies farther before the attack, which covers a joint, and how much
/// better than the rule's it has to be: dB.
constexpr float costOfDistance = 0.002F;
constexpr float worthIt = 0.3F;

/// A place for a seam, in bins, and what it would sound like.
struct Candidate {
    std::size_t begin = 0;
    std::size_t length = 0;
    float likeness = 0; ///< by which its sides fade
    float dip = 0;      ///< dB, in the mic and window where it is worst
    float ring = 0;     ///< dB, in the overheads' highs
    float cost = 0;     ///< dB: the dip, half of the worst bump and of what all mics change
};

class Search {
public:
    Search(const SeamQuestion& question, SampleRate rate, std::span<const bool> overheads, StretchedTails& tails)
        : question_(question), bin_(std::max<std::int64_t>(1, toFrames(binLength, rate).frames)),
          overheads_(overheads), tails_(tails) {
        const auto lowest = question.free.front().begin, highest = question.free.back().end;
        const std::int64_t before = (question.ruled.begin - lowest).frames / bin_ + 1;
        ruledBin_ = static_cast<std::size_t>(before) + windowBins;
        begin_ = question.ruled.begin - FrameCount{static_cast<std::int64_t>(ruledBin_) * bin_};
        frames_ = static_cast<std::size_t>(((highest - begin_).frames / bin_ + 1) * bin_) +
                  windowBins * static_cast<std::size_t>(bin_);
    }

    Expected<SeamAnswer> run() {
        if (auto read = readSides(); !read)
            return tl::unexpected(read.error());
        const std::size_t ruledLength = std::max<std::size_t>(1, binsIn(question_.ruled.length()));
        const Candidate ruled = judged(ruledBin_, ruledLength, std::numeric_limits<float>::max());
        Candidate best = ruled;
        best.cost -= worthIt;
        // The latest first: the best is likely to lie near, and what is worse is then soon seen to be.
        for (std::size_t begin = sides_.front().bins() - windowBins; begin >= windowBins; --begin)
            for (const std::size_t length : lengths_)
                if (isAllowed(begin, length))
                    if (const Candidate candidate = judged(begin, length, best.cost); candidate.cost < best.cost)
                        best = candidate;
        const bool stays = best.begin == ruledBin_ && best.length == ruledLength;
        return SeamAnswer{framesOf(best.begin) - framesOf(ruledBin_),
                          stays ? question_.ruled.length() : framesOf(best.length),
                          best.likeness,
                          best.dip,
                          ruled.dip,
                          best.ring};
    }

private:
    FrameCount framesOf(std::size_t bins) const { return FrameCount{static_cast<std::int64_t>(bins) * bin_}; }
    std::size_t binsIn(FrameCount length) const {
        return static_cast<std::size_t>(std::max<std::int64_t>(0, length.frames / bin_));
    }

    Expected<void> readSides() {
        Segment from{question_.earlier, question_.from, {}, {}, {}};
        from.stretch = question_.stretch;
        const Segment to{question_.later, question_.to, {}, {}, {}};
        for (MicIndex mic; mic < overheads_.size(); ++mic) {
            auto earlier = tails_.sound(from, mic, begin_, frames_);
            auto later = tails_.sound(to, mic, begin_, frames_);
            if (!earlier || !later)
                return tl::unexpected(earlier ? later.error() : earlier.error());
            sides_.emplace_back(*earlier, *later, static_cast<std::size_t>(bin_));
            toHighs(*earlier);
            toHighs(*later);
            sides_.emplace_back(*earlier, *later, static_cast<std::size_t>(bin_));
        }
        return {};
    }
    /// The first difference: 6 dB an octave, so that kicks are far down and cymbals stay.
    static void toHighs(std::vector<float>& samples) {
        for (std::size_t i = samples.size() - 1; i > 0; --i)
            samples[i] -= samples[i - 1];
        samples.front() = 0;
    }

    /// In bins, the longest first.
    std::vector<std::size_t> lengths() const {
        std::vector<std::size_t> found;
        for (const std::int64_t sixths : {6, 4, 3, 2}) {
            const std::size_t length =
                binsIn(FrameCount{std::max(question_.longest.frames * sixths / 6, question_.shortest.frames)});
            if (length > 0 && (found.empty() || found.back() != length))
                found.push_back(length);
        }
        return found;
    }
    bool isAllowed(std::size_t begin, std::size_t length) const {
        return question_.allows({begin_ + framesOf(begin), begin_ + framesOf(begin + length)});
    }

    /// Costs at least `limit` where it was seen on the way that it would.
    Candidate judged(std::size_t begin, std::size_t length, float limit) {
        const auto binsFarther = static_cast<float>(ruledBin_) - static_cast<float>(begin);
        Candidate candidate{begin, length, likenessAt(begin, length), 0, 0, limit};
        const std::vector<FadeGains>& gains = gainsOf(length, candidate.likeness);
        float bump = 0, sum = 0, cost = 0;
        for (std::size_t i = 0; i < sides_.size(); ++i) {
            const auto [whole, fine] = sides_[i].joined(begin, gains, {windowBins, fineBins});
            candidate.dip = std::max(candidate.dip, whole.dip);
            bump = std::max(bump, whole.bump);
            sum += whole.dip + whole.bump + fine.dip + fine.bump;
            if (i % 2 == 1 && overheads_[i / 2])
                candidate.ring = std::max({candidate.ring, fine.dip, fine.bump});
            cost = candidate.dip + bump + 0.5F * (sum / static_cast<float>(sides_.size())) +
                   costOfDistance * binsFarther;
            if (cost >= limit)
                return candidate;
        }
        candidate.cost = cost;
        return candidate;
    }
    /// In the middle of each bin; the same few come again and again.
    const std::vector<FadeGains>& gainsOf(std::size_t length, float likeness) {
        std::vector<FadeGains>& gains = gains_[{length, likeness}];
        for (std::size_t i = gains.size(); i < length; ++i)
            gains.push_back(
                fadeGains(question_.curve, (static_cast<double>(i) + 0.5) / static_cast<double>(length), likeness));
        return gains;
    }
    /// The mean of all mics that sound on both sides.
    float likenessAt(std::size_t begin, std::size_t length) const {
        float sum = 0;
        std::size_t count = 0;
        for (std::size_t i = 0; i < sides_.size(); i += 2)
            if (const auto likeness = sides_[i].likeness(begin, length)) {
                sum += *likeness;
                ++count;
            }
        if (count == 0)
            return 0;
        constexpr float steps = 32; // as finely as it matters
        return std::clamp(std::round(steps * sum / static_cast<float>(count)) / steps,
                          static_cast<float>(leastLikeness), 1.0F);
    }

    const SeamQuestion& question_;
    std::int64_t bin_;                ///< frames
    std::span<const bool> overheads_; ///< for each mic whether it is one
    StretchedTails& tails_;
    std::size_t ruledBin_; ///< where the rule's seam begins
    ResultFrame begin_;    ///< of the first bin
    std::size_t frames_;
    std::vector<SeamSides> sides_; ///< two for each mic: whole, highs
    std::vector<std::size_t> lengths_ = lengths();
    std::map<std::pair<std::size_t, float>, std::vector<FadeGains>> gains_; ///< by length and likeness
};

} // namespace

SeamSearch::SeamSearch(const Session& session, std::shared_ptr<KitReader> kit)
    : rate_(session.rate), kit_(std::move(kit)), tails_(*kit_) {
    for (MicIndex mic; mic < session.mics.size(); ++mic)
        overheads_[mic] = session.mics[mic].role == Role::overhead;
    mics_ = session.mics.size();
}

Expected<SeamAnswer> SeamSearch::answer(const SeamQuestion& question) {
    return Search(question, rate_, std::span(overheads_).first(mics_), tails_).run();
}

Expected<void> searchSeams(const Session& session, std::span<const SeamQuestion> questions, SeamAnswers& answers,
                           const Progress& progress) {
    constexpr std::size_t atOnce = 32; // neighbours, which read the same stretches of the files
    const std::size_t parts = (questions.size() + atOnce - 1) / atOnce;
    std::mutex guard;
    std::size_t done = 0;
    return tryEachIndex(parts, [&](std::size_t part) -> Expected<void> {
        SeamSearch search(session, std::make_shared<KitReader>(session));
        for (const SeamQuestion& question :
             questions.subspan(part * atOnce, std::min(atOnce, questions.size() - part * atOnce))) {
            if (progress.cancelled())
                return fail(ErrorKind::cancelled, "The search for seams was stopped");
            const auto answer = search.answer(question);
            if (!answer)
                return tl::unexpected(answer.error());
            const std::scoped_lock lock(guard);
            answers.add(question.key, *answer);
            progress.at(static_cast<double>(++done) / static_cast<double>(questions.size()));
        }
        return {};
    });
}

} // namespace lampo
