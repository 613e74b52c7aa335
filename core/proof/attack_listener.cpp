#include "proof/attack_listener.h"

#include "base/text.h"
#include "proof/sound_content.h"
#include "proof/sound_figures.h"

#include <algorithm>
#include <cmath>
#include <fmt/core.h>

namespace lampo {
namespace {

constexpr Milliseconds before{35}, behind{45}; ///< of the landing, that is listened to
constexpr Milliseconds searched{25};           ///< to both sides of it the attack is looked for
constexpr Decibels softest{-14};               ///< softer strokes are not told of: others hide them
constexpr double risesBy = 10;                 ///< times the power before: what stands out
constexpr double startsAt = 0.25;              ///< of the largest power: where the rise is

/// How far on both sides of its landing a hit's attack is looked for.
struct Search {
    FrameCount ahead, beyond;
};

/// Half the way to the drum's own neighbours at most; what others strike is softer in its mic.
std::vector<Search> searchesOf(const Outcome& outcome, FrameCount most) {
    std::vector<Search> reaches(outcome.hits.size(), {most, most});
    std::map<std::pair<std::optional<MicIndex>, Voice>, std::size_t> last;
    for (std::size_t i = 0; i < reaches.size(); ++i) {
        const auto drum = std::pair(outcome.hits[i].mic, outcome.hits[i].voice);
        if (const auto one = last.find(drum); one != last.end()) {
            const FrameCount half = scaled(outcome.landings[i].at - outcome.landings[one->second].at, 0.5);
            reaches[i].ahead = std::min(most, half);
            reaches[one->second].beyond = std::min(most, half);
        }
        last[drum] = i;
    }
    return reaches;
}

/// How much later than usual for its drum: attacks swell for some time before their edges are steepest.
std::vector<std::optional<Milliseconds>>
againstUsual(const Outcome& outcome, std::span<const std::optional<FrameCount>> heard, SampleRate rate) {
    constexpr std::size_t fewest = 5; // strokes that tell what is usual
    const auto drumOf = [&](std::size_t hit) { return std::pair(*outcome.hits[hit].mic, outcome.hits[hit].voice); };
    std::map<std::pair<MicIndex, Voice>, std::vector<FrameCount>> byDrum;
    for (std::size_t hit = 0; hit < heard.size(); ++hit)
        if (heard[hit])
            byDrum[drumOf(hit)].push_back(*heard[hit]);
    std::map<std::pair<MicIndex, Voice>, FrameCount> usual;
    for (const auto& [drum, all] : byDrum)
        if (all.size() >= fewest)
            usual[drum] = medianOf(all);
    std::vector<std::optional<Milliseconds>> late(heard.size());
    for (std::size_t hit = 0; hit < heard.size(); ++hit)
        if (heard[hit])
            if (const auto drum = usual.find(drumOf(hit)); drum != usual.end())
                late[hit] = toMilliseconds(*heard[hit] - drum->second, rate);
    return late;
}

/// Where the edges rise to a quarter of their largest power near the middle; none where they do not stand out.
std::optional<FrameCount> attackIn(std::span<const float> sound, FrameCount middle, const Search& reach,
                                   SampleRate rate) {
    const auto hop = static_cast<std::size_t>(std::max(1, rate.hz / 4000)); // a quarter of a millisecond
    std::vector<double> power;
    for (std::size_t begin = 1; begin + hop <= sound.size(); begin += hop) {
        double sum = 0;
        for (std::size_t i = begin; i < begin + hop; ++i) {
            const double edge = double{sound[i]} - sound[i - 1];
            sum += edge * edge;
        }
        power.push_back(sum);
    }
    std::vector<double> smooth(power.size()); // over three hops
    for (std::size_t i = 1; i + 1 < power.size(); ++i)
        smooth[i] = (power[i - 1] + power[i] + power[i + 1]) / 3;
    const auto hopAt = [&](FrameCount at) {
        return static_cast<std::size_t>(
            std::clamp<std::int64_t>(at.frames / static_cast<std::int64_t>(hop), 0, std::ssize(smooth) - 1));
    };
    const std::size_t from = hopAt(middle - reach.ahead), to = hopAt(middle + reach.beyond);
    if (to <= from)
        return std::nullopt;
    const auto largest = std::max_element(smooth.begin() + static_cast<std::ptrdiff_t>(from),
                                          smooth.begin() + static_cast<std::ptrdiff_t>(to));
    double quiet = 0;
    for (std::size_t i = 1; i < from; ++i)
        quiet += smooth[i];
    quiet /= static_cast<double>(std::max<std::size_t>(from, 2) - 1);
    if (*largest <= risesBy * quiet || *largest <= 0)
        return std::nullopt;
    auto start = largest;
    while (start != smooth.begin() + static_cast<std::ptrdiff_t>(from) && *std::prev(start) > startsAt * *largest)
        --start;
    const double low = start == smooth.begin() ? 0 : *std::prev(start);
    const double part = (startsAt * *largest - low) / std::max(*start - low, 1e-30); // between two hops
    const double at =
        (static_cast<double>(start - smooth.begin()) - 1 + std::clamp(part, 0.0, 1.0)) * static_cast<double>(hop);
    return FrameCount{std::llround(at)} - middle;
}

} // namespace

Expected<std::vector<std::optional<Milliseconds>>> attacksHeard(const Session& session, const Outcome& outcome,
                                                                const KitSoundMaker& sound, AttacksHeard* known,
                                                                const Progress& progress) {
    const SoundContent content(session, *outcome.plan);
    const FrameCount early = toFrames(before, session.rate), late = toFrames(behind, session.rate);
    const std::vector<Search> searches = searchesOf(outcome, toFrames(searched, session.rate));
    const auto keyOf = [&](std::size_t index) -> std::optional<std::uint64_t> {
        const SongHit& hit = outcome.hits[index];
        if (!hit.mic || hit.bare || hit.added || hit.level < softest || session.clusters.anchor == Anchor::middle)
            return std::nullopt;
        const ResultFrame at = outcome.landings[index].at;
        return contentOf({static_cast<std::int64_t>(content.of({at - early, at + late})),
                          static_cast<std::int64_t>(hit.mic->value), searches[index].ahead.frames,
                          searches[index].beyond.frames});
    };
    const HearEach<std::optional<FrameCount>> each{
        session, sound, known, progress, keyOf, [&](KitSound& own) {
            return [&, out = std::vector<float>(static_cast<std::size_t>((early + late).frames))](
                       std::size_t index) mutable {
                return own.readMic(*outcome.hits[index].mic, outcome.landings[index].at - early, out).map([&] {
                    return attackIn(out, early, searches[index], session.rate);
                });
            };
        }};
    return each.run(outcome.hits.size()).map([&](const auto& all) {
        std::vector<std::optional<FrameCount>> heard;
        for (const auto& one : all)
            heard.push_back(one.value_or(std::nullopt));
        return againstUsual(outcome, heard, session.rate);
    });
}

std::vector<ProofPlace> placesOfLooseHits(const Session& session, const Outcome& outcome,
                                          std::span<const std::optional<Milliseconds>> heard) {
    std::vector<ProofPlace> places;
    for (HitIndex hit; hit < outcome.hits.size(); ++hit) {
        const Landing& landing = outcome.landings[hit];
        if (!heard[hit] || landing.state != LandingState::landed ||
            gravityOf(ProofKind::loose, std::abs(heard[hit]->value)) < toldGravity)
            continue;
        ProofPlace place{momentAt(landing.at, session.rate), ProofKind::loose, std::abs(heard[hit]->value),
                         fmt::format("This {} sounds {} ms {} than the drum's others",
                                     name(outcome.hits[hit].voice), trimmedNumber(std::abs(heard[hit]->value), 0),
                                     heard[hit]->value > 0 ? "later" : "earlier")};
        place.mics = onlyMic(outcome.hits[hit].mic);
        place.hit = hit;
        place.late = toFrames(*heard[hit], session.rate);
        place.content = contentOf({static_cast<std::int64_t>(ProofKind::loose),
                                   session.takes[outcome.hits[hit].take].letter.value,
                                   outcome.hits[hit].found().frame, landing.move().frames});
        places.push_back(std::move(place));
    }
    return places;
}

} // namespace lampo
