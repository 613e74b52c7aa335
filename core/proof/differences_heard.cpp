#include "proof/differences_heard.h"

#include "base/parallel.h"
#include "base/text.h"
#include "proof/changed_stretch.h"
#include "proof/sound_figures.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/core.h>

namespace lampo {
namespace {

constexpr std::int64_t block = 1 << 15;
constexpr std::size_t hop = 64;
constexpr double noise = 1e-13;        ///< mean square of what no format can hold
constexpr double aboveUsual = 10;      ///< times what differs throughout
constexpr Milliseconds oneStretch{10}; ///< differences nearer than this are one

/// A stretch of one mic that differs.
struct Run {
    MicIndex mic;
    std::int64_t begin, end; ///< result frames
};

class Comparison {
public:
    Comparison(const Session& session, const Outcome& outcome, const std::vector<WholeMic>& whole,
               const KitSoundMaker& expected, const KitSoundMaker& heard, const Progress& progress)
        : session_(session), outcome_(outcome), whole_(whole), expected_(expected), heard_(heard),
          progress_(progress), length_(session.length().frames) {}

    Expected<std::vector<ProofPlace>> run() {
        tellWholeMics();
        return findRuns().and_then([&] { return judgeRuns(); }).map([&] { return std::move(found_); });
    }

private:
    struct Pair {
        std::unique_ptr<KitSound> expected, heard;
    };
    Expected<Pair> bothSounds() const {
        auto expected = expected_(std::make_shared<KitReader>(session_));
        if (!expected)
            return tl::unexpected(expected.error());
        auto heard = heard_(std::make_shared<KitReader>(session_));
        if (!heard)
            return tl::unexpected(heard.error());
        return Pair{std::move(*expected), std::move(*heard)};
    }

    void tellWholeMics() {
        std::vector<std::int64_t> lags;
        std::size_t upsideDown = 0, sounding = 0;
        for (const WholeMic& mic : whole_)
            if (mic.expectedSounds && mic.sounds) {
                lags.push_back(mic.lag);
                upsideDown += mic.gain < 0 ? 1 : 0;
                ++sounding;
            }
        const std::int64_t common = medianOf(lags, std::int64_t{0});
        for (MicIndex m; m < whole_.size(); ++m) {
            const WholeMic& mic = whole_[m];
            const std::string& stem = session_.mics[m].stem;
            const double ms = toMilliseconds(FrameCount{std::abs(mic.lag - common)}, session_.rate).value;
            if (mic.expectedSounds && !mic.sounds)
                tellWhole(m, ProofKind::silent, 1e3 * static_cast<double>(length_) / session_.rate.hz,
                          fmt::format("{} is silent throughout the print", stem));
            else if (mic.expectedSounds && mic.lag != common)
                tellWhole(m, ProofKind::phase, std::max(ms, scaleOf(ProofKind::phase).told),
                          fmt::format("{} lies {} ms {} than the other mics in the whole print", stem,
                                      trimmedNumber(ms, 2), mic.lag < common ? "earlier" : "later"));
            else if (mic.expectedSounds && (mic.gain < 0) != (2 * upsideDown > sounding))
                tellWhole(m, ProofKind::phase, scaleOf(ProofKind::phase).plain,
                          fmt::format("The polarity of {} is inverted in the print", stem));
        }
    }
    void tellWhole(MicIndex mic, ProofKind kind, double size, std::string text) {
        ProofPlace place{{ResultFrame{0}, ResultFrame{std::max<std::int64_t>(1, length_)}},
                         kind,
                         size,
                         std::move(text),
                         onlyMic(mic)};
        place.content = contentOf({static_cast<std::int64_t>(kind), static_cast<std::int64_t>(mic.value), length_});
        found_.push_back(std::move(place));
    }

    Expected<void> findRuns() {
        auto pair = bothSounds();
        if (!pair)
            return tl::unexpected(pair.error());
        std::vector<std::vector<Run>> runs(whole_.size());
        std::vector<std::vector<float>> x(whole_.size(), std::vector<float>(block)), y = x;
        const std::int64_t gap = toFrames(oneStretch, session_.rate).frames;
        for (std::int64_t at = 0; at < length_; at += block) {
            if (progress_.cancelled())
                return fail(ErrorKind::cancelled, "The proof was stopped");
            const auto count = static_cast<std::size_t>(std::min(block, length_ - at));
            std::vector<std::span<float>> spans;
            for (auto& mic : x)
                spans.push_back(std::span(mic).first(count));
            if (auto read = pair->expected->read(ResultFrame{at}, count, spans); !read)
                return read;
            const auto compared = tryEachIndex(whole_.size(), [&](std::size_t m) -> Expected<void> {
                const MicIndex mic{m};
                if (!whole_[m].sounds)
                    return {};
                const auto heard = std::span(y[m]).first(count);
                if (auto read = pair->heard->readMic(mic, ResultFrame{at}, heard); !read)
                    return read;
                compare(mic, at, spans[m], heard, gap, runs[m]);
                return {};
            });
            if (!compared)
                return compared;
            progress_.at(0.5 * static_cast<double>(at) / static_cast<double>(length_));
        }
        for (const auto& mic : runs)
            runs_.insert(runs_.end(), mic.begin(), mic.end());
        return {};
    }
    void compare(MicIndex mic, std::int64_t at, std::span<const float> x, std::span<const float> y,
                 std::int64_t gap, std::vector<Run>& runs) const {
        const WholeMic& whole = whole_[mic];
        for (std::size_t h = 0; h < x.size(); h += hop) {
            const std::size_t count = std::min(hop, x.size() - h);
            float rest = 0, expected = 0;
            for (std::size_t i = h; i < h + count; ++i) {
                const float difference = y[i] - x[i];
                rest += difference * difference;
                expected += x[i] * x[i];
            }
            const double size = static_cast<double>(count);
            const double limit = std::max({noise, aboveUsual * whole.usual,
                                           aboveUsual * whole.usualShare * static_cast<double>(expected) / size});
            if (static_cast<double>(rest) / size <= limit)
                continue;
            const std::int64_t begin = at + static_cast<std::int64_t>(h),
                               end = begin + static_cast<std::int64_t>(count);
            if (!runs.empty() && begin - runs.back().end <= gap)
                runs.back().end = end;
            else
                runs.push_back({mic, begin, end});
        }
    }

    /// Runs of several mics that begin and end together have one cause.
    Expected<void> judgeRuns() {
        std::stable_sort(runs_.begin(), runs_.end(), [](const Run& a, const Run& b) { return a.begin < b.begin; });
        const std::int64_t near = toFrames(Milliseconds{30}, session_.rate).frames;
        std::vector<std::vector<Run>> events;
        std::size_t recent = 0; // events before it began too long ago
        for (const Run& run : runs_) {
            while (recent < events.size() && run.begin - events[recent].front().begin > near)
                ++recent;
            const auto together = std::find_if(events.begin() + static_cast<std::ptrdiff_t>(recent), events.end(),
                                               [&](const std::vector<Run>& event) {
                                                   const Run& first = event.front();
                                                   return std::abs(run.end - first.end) <= near ||
                                                          (run.begin < first.end && first.begin < run.end &&
                                                           run.end - run.begin <= 3 * near);
                                               });
            if (together != events.end())
                together->push_back(run);
            else
                events.push_back({run});
        }
        constexpr std::size_t atOnce = 16;
        std::vector<std::optional<ProofPlace>> places(events.size());
        const auto judged =
            tryEachIndex((events.size() + atOnce - 1) / atOnce, [&](std::size_t part) -> Expected<void> {
                auto pair = bothSounds();
                if (!pair)
                    return tl::unexpected(pair.error());
                for (std::size_t e = part * atOnce; e < std::min(events.size(), (part + 1) * atOnce); ++e) {
                    if (progress_.cancelled())
                        return fail(ErrorKind::cancelled, "The proof was stopped");
                    auto place = placeOf(*pair, events[e]);
                    if (!place)
                        return tl::unexpected(place.error());
                    places[e] = std::move(*place);
                }
                return {};
            });
        if (!judged)
            return judged;
        for (auto& place : places)
            if (place)
                found_.push_back(std::move(*place));
        return {};
    }

    struct Vote {
        Change change;
        MicIndex mic;
        double weight = 0;
    };
    Expected<std::optional<ProofPlace>> placeOf(Pair& pair, const std::vector<Run>& event) const {
        std::vector<Vote> votes;
        for (const Run& run : event) {
            auto vote = voteOf(pair, run);
            if (!vote)
                return tl::unexpected(vote.error());
            votes.push_back(*vote);
        }
        std::array<double, proofKindNames.count> weights{};
        for (const Vote& vote : votes)
            weights[static_cast<std::size_t>(vote.change.kind)] += vote.weight;
        const auto kind =
            static_cast<ProofKind>(std::max_element(weights.begin(), weights.end()) - weights.begin());
        std::int64_t begin = event.front().begin, end = event.front().end;
        MicSet mics = 0;
        for (const Run& run : event) {
            begin = std::min(begin, run.begin);
            end = std::max(end, run.end);
            mics |= onlyMic(run.mic);
        }
        const Vote* worst = nullptr;
        for (const Vote& vote : votes)
            if (vote.change.kind == kind && (!worst || vote.change.size > worst->change.size))
                worst = &vote;
        Change change = worst->change;
        if (change.moved)
            change = nameMove(change, mics);
        if (gravityOf(change.kind, change.size) < toldGravity)
            return std::nullopt;
        ProofPlace place{
            {ResultFrame{begin}, ResultFrame{end}}, change.kind, change.size, wordsOf(change, *worst), mics};
        place.content = contentOf({static_cast<std::int64_t>(change.kind), begin, end,
                                   std::llround(1000 * change.size), static_cast<std::int64_t>(mics)});
        return place;
    }

    Expected<Vote> voteOf(Pair& pair, const Run& run) const {
        const std::int64_t around = toFrames(aroundChange, session_.rate).frames;
        const std::int64_t end = std::min(run.end, run.begin + toFrames(longestChange, session_.rate).frames);
        const std::int64_t from = run.begin - around;
        const auto count = static_cast<std::size_t>(end + around - from);
        std::vector<float> x(count), y(count);
        auto read = pair.expected->readMic(run.mic, ResultFrame{from}, x).and_then([&] {
            return pair.heard->readMic(run.mic, ResultFrame{from}, y);
        });
        if (!read)
            return tl::unexpected(read.error());
        ChangedStretch stretch{x, y, static_cast<std::size_t>(around), static_cast<std::size_t>(end - from),
                               session_.rate};
        const Role role = session_.mics[run.mic].role;
        stretch.hearsCymbals = role == Role::overhead || isMetal(role);
        const auto first = std::lower_bound(outcome_.landings.begin(), outcome_.landings.end(), ResultFrame{from},
                                            [](const Landing& landing, ResultFrame at) { return landing.at < at; });
        for (auto landing = first; landing != outcome_.landings.end() && landing->at.frame < end + around;
             ++landing) {
            const SongHit& hit = outcome_.hits[static_cast<std::size_t>(landing - outcome_.landings.begin())];
            if (voiceOf(role) == hit.voice || !isCloseMic(role))
                stretch.attacks.push_back(static_cast<std::size_t>(landing->at.frame - from));
        }
        Vote vote{changeIn(stretch), run.mic};
        double rest = 0;
        for (std::size_t i = stretch.begin; i < stretch.end; ++i)
            rest += std::pow(double{y[i]} - x[i], 2);
        vote.weight = rest / std::max(energyOf(x), 1e-9);
        // Of a long stretch the whole counts.
        if (vote.change.kind == ProofKind::silent)
            vote.change.size = 1e3 * static_cast<double>(run.end - run.begin) / session_.rate.hz;
        return vote;
    }

    /// The same sound elsewhere: all mics, and the hit is late; some, and the drum's mics no longer fit together.
    Change nameMove(Change change, MicSet mics) const {
        std::size_t moved = 0, sounding = 0;
        for (MicIndex mic; mic < whole_.size(); ++mic)
            if (whole_[mic].sounds && whole_[mic].expectedSounds) {
                ++sounding;
                moved += (mics & onlyMic(mic)) != 0 ? 1 : 0;
            }
        const double ms = toMilliseconds(abs(*change.moved), session_.rate).value;
        if (4 * moved >= 3 * sounding && sounding > 1)
            return ms >= 40 ? Change{ProofKind::wrongLine, 1, change.moved}
                            : Change{ProofKind::loose, std::max(ms, scaleOf(ProofKind::loose).told), change.moved};
        return ms <= scaleOf(ProofKind::flam).told ? Change{ProofKind::phase, ms, change.moved}
                                                   : Change{ProofKind::flam, ms, change.moved};
    }

    std::string wordsOf(const Change& change, const Vote& vote) const {
        const std::string& stem = session_.mics[vote.mic].stem;
        const std::string size = trimmedNumber(change.size, change.size < 10 ? 1 : 0);
        const char* way = change.moved && *change.moved < FrameCount{} ? "earlier" : "later";
        switch (change.kind) {
        case ProofKind::doubledAttack:
            return fmt::format("An attack sounds in {} that the edit does not have", stem);
        case ProofKind::lostAttack:
            return fmt::format("An attack has lost {} dB in {}", size, stem);
        case ProofKind::click:
            return fmt::format("A click in {}: its step is {} times the steepest around", stem, size);
        case ProofKind::dip:
            return fmt::format("The level of {} changes by {} dB for a moment", stem, size);
        case ProofKind::stutter:
            return fmt::format("{} ms sound again in {}", size, stem);
        case ProofKind::swallowedRing:
            return fmt::format("What rings in {} is cut off or jumps, by {} dB", stem, size);
        case ProofKind::flam:
            return fmt::format("A stroke lies {} ms {} in {} than in the other mics", size, way, stem);
        case ProofKind::wrongLine:
            return fmt::format("A hit sounds {} ms {} than it lands in the edit",
                               trimmedNumber(toMilliseconds(abs(*change.moved), session_.rate).value, 0), way);
        case ProofKind::loose:
            return fmt::format("A hit sounds {} ms {} than it lands in the edit", size, way);
        case ProofKind::phase:
            return fmt::format("{} lies {} ms {} than the other mics", stem, trimmedNumber(change.size, 2), way);
        case ProofKind::level:
            return fmt::format("{} is {} dB louder or softer than the edit has it", stem, size);
        case ProofKind::silent:
            return fmt::format("{} is silent for {} ms", stem, size);
        default:
            return fmt::format("{} is not what the edit has", stem);
        }
    }

    const Session& session_;
    const Outcome& outcome_;
    const std::vector<WholeMic>& whole_;
    const KitSoundMaker &expected_, &heard_;
    const Progress& progress_;
    std::int64_t length_; ///< frames
    std::vector<Run> runs_;
    std::vector<ProofPlace> found_;
};

} // namespace

Expected<std::vector<ProofPlace>> placesOfDifferences(const Session& session, const Outcome& outcome,
                                                      const std::vector<WholeMic>& whole,
                                                      const KitSoundMaker& expected, const KitSoundMaker& heard,
                                                      const Progress& progress) {
    return Comparison(session, outcome, whole, expected, heard, progress).run();
}

} // namespace lampo
