#include "proof/stroke_levels.h"

#include "base/text.h"
#include "proof/sound_content.h"
#include "proof/sound_figures.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/core.h>
#include <set>
#include <tuple>

namespace lampo {
namespace {

// All of these: common practice, no source.
constexpr Milliseconds strokeLength{50};    ///< of a stroke whose level is compared
constexpr std::size_t strokesCompared = 16; ///< on each side of a border
constexpr std::size_t fewestStrokes = 3;    ///< of one drum
constexpr Decibels softestCompared{-8};     ///< against its drum's strong strokes
constexpr double missedBy = 20;             ///< dB below what is expected
constexpr double noiseSpan = 6;             ///< dB above the softest that a mic ever hears: its noise
constexpr std::size_t fewestMissed = 2;     ///< strokes in a row
constexpr double nothing = -70;             ///< dBFS

} // namespace

Expected<StrokeLevels> strokeLevels(const Session& session, const Outcome& outcome, const KitSoundMaker& sound,
                                    LevelsHeard* known, const Progress& progress) {
    const SoundContent content(session, *outcome.plan);
    const auto stretchFrom = [&](std::size_t hit) {
        const ResultFrame at = outcome.landings[hit].at;
        return Range<ResultFrame>{at, at + toFrames(strokeLength, session.rate)};
    };
    const HearEach<std::vector<float>> each{
        session,
        sound,
        known,
        progress,
        [&](std::size_t hit) {
            return outcome.hits[hit].bare ? std::nullopt : std::optional(content.of(stretchFrom(hit)));
        },
        [&](KitSound& own) {
            return [&](std::size_t hit) {
                const auto stretch = stretchFrom(hit);
                return stretchOf(own, session.mics.size(), stretch.begin,
                                 static_cast<std::size_t>(stretch.length().frames))
                    .map([](const std::vector<std::vector<float>>& mics) {
                        std::vector<float> levels;
                        for (const auto& mic : mics)
                            levels.push_back(static_cast<float>(levelOf(mic)));
                        return levels;
                    });
            };
        }};
    return each.run(outcome.hits.size()).map([](const std::vector<std::optional<std::vector<float>>>& heard) {
        StrokeLevels levels;
        for (const auto& hit : heard)
            levels.push_back(hit.value_or(std::vector<float>{}));
        return levels;
    });
}

namespace {

/// Of one take: the mic that gave the hit its date tells toms apart.
using Drum = std::tuple<TakeIndex, Voice, std::optional<MicIndex>>;
Drum drumOf(const SongHit& hit) {
    return {hit.take, hit.voice, hit.mic};
}

ProofPlace dropoutPlace(const Session& session, const Outcome& outcome, MicIndex mic,
                        std::span<const std::size_t> hits) {
    const Range<ResultFrame> where{outcome.landings[hits.front()].at,
                                   outcome.landings[hits.back()].at + toFrames(strokeLength, session.rate)};
    const SongHit& first = outcome.hits[hits.front()];
    ProofPlace place{
        where, ProofKind::silent, toMilliseconds(where.length(), session.rate).value,
        fmt::format("{} drops out: it hears nothing of strokes that it usually hears", session.mics[mic].stem),
        onlyMic(mic)};
    place.content = contentOf({static_cast<std::int64_t>(ProofKind::silent), static_cast<std::int64_t>(mic.value),
                               first.found().frame, session.takes[first.take].letter.value});
    return place;
}

} // namespace

namespace {

/// What each mic usually hears of each drum, take by take.
std::map<Drum, std::vector<double>> usualLevels(const Outcome& outcome, const StrokeLevels& levels,
                                                std::size_t mics) {
    std::map<Drum, std::vector<std::vector<double>>> byDrum;
    for (std::size_t hit = 0; hit < levels.size(); ++hit) {
        if (levels[hit].empty())
            continue;
        auto& drum = byDrum[drumOf(outcome.hits[hit])];
        drum.resize(mics);
        for (std::size_t mic = 0; mic < mics; ++mic)
            drum[mic].push_back(static_cast<double>(levels[hit][mic]));
    }
    std::map<Drum, std::vector<double>> usual;
    for (const auto& [drum, heard] : byDrum)
        for (const auto& mic : heard)
            usual[drum].push_back(medianOf(mic));
    return usual;
}

/// What a mic should hear of a hit: what it usually does, and as much more or less as the other mics do now.
std::optional<double> expectedLevel(const std::vector<double>& usual, const std::vector<float>& now, MicIndex mic) {
    std::vector<double> others;
    for (std::size_t other = 0; other < usual.size(); ++other)
        if (other != mic && usual[other] > nothing)
            others.push_back(static_cast<double>(now[other]) - usual[other]);
    return others.size() < 2 ? std::nullopt : std::optional(usual[mic] + medianOf(std::move(others)));
}

} // namespace

std::vector<ProofPlace> placesOfDropouts(const Session& session, const Outcome& outcome,
                                         const StrokeLevels& levels) {
    const std::size_t mics = session.mics.size();
    const auto usual = usualLevels(outcome, levels, mics);
    std::vector<ProofPlace> places;
    for (MicIndex mic; mic < mics && mics >= 3; ++mic) {
        double softest = 0;
        for (const auto& hit : levels)
            softest = hit.empty() ? softest : std::min(softest, static_cast<double>(hit[mic]));
        std::vector<std::size_t> missed; // hits in a row
        const auto close = [&] {
            std::set<Drum> drums; // one alone may be another than it is taken for
            for (const std::size_t hit : missed)
                drums.insert(drumOf(outcome.hits[hit]));
            if (missed.size() >= fewestMissed && drums.size() > 1)
                places.push_back(dropoutPlace(session, outcome, mic, missed));
            missed.clear();
        };
        for (std::size_t hit = 0; hit < levels.size(); ++hit) {
            if (levels[hit].empty())
                continue;
            const auto expected = expectedLevel(usual.at(drumOf(outcome.hits[hit])), levels[hit], mic);
            if (!expected || *expected < std::max(nothing, softest + missedBy))
                continue; // it says nothing: the mic hears little of this drum anyway
            const auto level = static_cast<double>(levels[hit][mic]);
            if (level > *expected - missedBy || level > softest + noiseSpan)
                close();
            else
                missed.push_back(hit);
        }
        close();
    }
    return places;
}

namespace {

/// By drum and side of a border: what each mic hears of its strokes.
using BorderLevels = std::array<std::array<std::vector<std::size_t>, 2>, voiceCount>;

BorderLevels strokesAround(const Outcome& outcome, const StrokeLevels& levels, std::size_t border) {
    BorderLevels around;
    for (const bool behind : {false, true}) {
        std::size_t taken = 0;
        const std::size_t piece = outcome.hits[behind ? border : border - 1].piece;
        for (std::size_t step = 0;
             taken < strokesCompared && (behind ? border + step < levels.size() : step < border); ++step) {
            const std::size_t hit = behind ? border + step : border - 1 - step;
            if (outcome.hits[hit].piece != piece)
                break;
            if (levels[hit].empty() || outcome.hits[hit].level < softestCompared)
                continue;
            around[static_cast<std::size_t>(outcome.hits[hit].voice)][behind].push_back(hit);
            ++taken;
        }
    }
    return around;
}

} // namespace

std::vector<ProofPlace> placesOfLevels(const Session& session, const Outcome& outcome, const StrokeLevels& levels) {
    std::vector<ProofPlace> places;
    const std::size_t mics = session.mics.size();
    for (std::size_t border = 1; border < levels.size(); ++border) {
        const SongHit &before = outcome.hits[border - 1], &behind = outcome.hits[border];
        if (before.piece == behind.piece || before.take == behind.take)
            continue;
        std::vector<std::pair<double, double>> changes(mics, {nothing, 0}); // of the drum that it hears loudest
        for (const auto& [early, late] : strokesAround(outcome, levels, border)) {
            if (std::min(early.size(), late.size()) < fewestStrokes)
                continue;
            std::vector<std::pair<double, double>> own;
            std::vector<double> all;
            for (std::size_t mic = 0; mic < mics; ++mic) {
                const auto median = [&](const std::vector<std::size_t>& hits) {
                    std::vector<double> values;
                    for (const std::size_t hit : hits)
                        values.push_back(static_cast<double>(levels[hit][mic]));
                    return medianOf(std::move(values));
                };
                const double a = median(early), b = median(late);
                own.emplace_back(std::max(a, b), b - a);
                if (std::max(a, b) > nothing)
                    all.push_back(b - a);
            }
            if (all.size() < 3)
                continue;
            const double common = medianOf(all); // the drummer struck harder
            for (std::size_t mic = 0; mic < mics; ++mic)
                changes[mic] = std::max(changes[mic], {own[mic].first, own[mic].second - common});
        }
        for (MicIndex mic; mic < mics; ++mic) {
            const double change = changes[mic].second;
            if (gravityOf(ProofKind::level, std::abs(change)) < toldGravity)
                continue;
            const ResultFrame at = outcome.choice.pieces[behind.piece].in.begin;
            ProofPlace place{{at, at + toFrames(strokeLength, session.rate)},
                             ProofKind::level,
                             std::abs(change),
                             fmt::format("{} is {} dB {} behind this border", session.mics[mic].stem,
                                         trimmedNumber(std::abs(change), 1), change > 0 ? "louder" : "softer"),
                             onlyMic(mic)};
            place.content =
                contentOf({static_cast<std::int64_t>(ProofKind::level), behind.found().frame,
                           session.takes[behind.take].letter.value, session.takes[before.take].letter.value,
                           static_cast<std::int64_t>(mic.value)});
            places.push_back(std::move(place));
        }
    }
    return places;
}

} // namespace lampo
