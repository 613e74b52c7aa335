#include "proof/level_listener.h"

#include "advice/patch_mics.h"
#include "base/parallel.h"
#include "base/text.h"
#include "proof/sound_content.h"

#include <algorithm>
#include <array>
#include <atomic>
#include <cmath>
#include <fmt/core.h>
#include <set>
#include <tuple>

namespace lampo {
namespace {

// All of these: common practice, no source.
constexpr float silent = 1.6e-5F;           ///< −96 dBFS: below the last bit of 16
constexpr double mostlySilent = 0.2;        ///< a gate's work, or a drum that is not played
constexpr Milliseconds strokeLength{50};    ///< of a stroke whose level is compared
constexpr std::size_t strokesCompared = 16; ///< on each side of a border
constexpr std::size_t fewestStrokes = 3;    ///< of one drum
constexpr Decibels softestCompared{-8};     ///< against its drum's strong strokes
constexpr double deafBy = 20;               ///< dB below what is expected
constexpr double noiseSpan = 6;             ///< dB above the softest that a mic ever hears: its noise
constexpr std::size_t fewestDeaf = 2;       ///< strokes in a row
constexpr double nothing = -70;             ///< dBFS
constexpr Milliseconds phaseReach{4};       ///< between two mics of one drum
constexpr Milliseconds phaseWindow{25};     ///< of an attack

template <class T>
T medianOf(std::vector<T> values) {
    std::nth_element(values.begin(), values.begin() + std::ssize(values) / 2, values.end());
    return values[values.size() / 2];
}

double levelOf(std::span<const float> sound) {
    double sum = 0;
    for (const float sample : sound)
        sum += double{sample} * sample;
    return 10 * std::log10(std::max(sum / static_cast<double>(sound.size()), 1e-20));
}

/// How much later b is than a where they are most alike, and how much.
struct Lag {
    std::int64_t frames = 0;
    double likeness = 0;
};
Lag lagBetween(std::span<const float> a, std::span<const float> b, std::int64_t reach) {
    Lag best;
    const std::int64_t count = std::ssize(a) - 2 * reach;
    for (std::int64_t lag = -reach; lag <= reach && count > 0; ++lag) {
        double ab = 0, aa = 0, bb = 0;
        for (std::int64_t i = reach; i < reach + count; ++i) {
            const double x = a[static_cast<std::size_t>(i)], y = b[static_cast<std::size_t>(i + lag)];
            ab += x * y;
            aa += x * x;
            bb += y * y;
        }
        if (const double likeness = std::abs(ab) / std::sqrt(std::max(aa * bb, 1e-20)); likeness > best.likeness)
            best = {lag, likeness};
    }
    return best;
}

} // namespace

Expected<std::vector<Range<SourceFrame>>> SilencesHeard::of(const SourceFile& file, SampleRate rate,
                                                            const Progress& progress) {
    {
        const std::scoped_lock lock(guard_);
        if (const auto found = known_.find({file, rate}); found != known_.end())
            return found->second;
    }
    auto reader = AudioReader::open(file, rate);
    if (!reader)
        return tl::unexpected(reader.error());
    const std::int64_t length = reader->info().length.frames, shortest = rate.hz / 20;
    std::vector<float> block(1 << 16);
    std::vector<Range<SourceFrame>> all;
    std::int64_t quiet = 0, begin = file.offset.frames > 0 ? file.offset.frames : 0;
    std::int64_t since = begin;
    const auto end = [&](std::int64_t at) {
        if (at - since >= shortest) {
            all.push_back({{since}, {at}});
            quiet += at - since;
        }
    };
    for (std::int64_t at = begin; at < length; at += std::ssize(block)) {
        if (progress.cancelled())
            return fail(ErrorKind::cancelled, "The proof was stopped");
        const auto count = static_cast<std::size_t>(std::min<std::int64_t>(std::ssize(block), length - at));
        if (auto read = reader->read({at}, std::span(block).first(count)); !read)
            return tl::unexpected(read.error());
        for (std::size_t i = 0; i < count; ++i)
            if (std::abs(block[i]) > silent) {
                end(at + static_cast<std::int64_t>(i));
                since = at + static_cast<std::int64_t>(i) + 1;
            }
    }
    end(length);
    // Before the first sound and behind the last nothing fell silent.
    if (!all.empty() && all.front().begin.frame <= begin)
        all.erase(all.begin());
    if (!all.empty() && all.back().end.frame >= length)
        all.pop_back();
    if (static_cast<double>(quiet) > mostlySilent * static_cast<double>(length))
        all.clear();
    const std::scoped_lock lock(guard_);
    return known_.insert_or_assign({file, rate}, std::move(all)).first->second;
}

Expected<std::vector<ProofPlace>> placesOfSilence(const Session& session, const Outcome& outcome,
                                                  SilencesHeard& known, const Progress& progress) {
    struct Source {
        TakeIndex take;
        MicIndex mic;
        std::vector<Range<SourceFrame>> silences;
    };
    std::vector<Source> sources;
    for (TakeIndex take; take < session.takes.size(); ++take)
        for (MicIndex mic; mic < session.mics.size(); ++mic)
            if (session.sounds(take) && !session.takes[take].files[mic].empty())
                sources.push_back({take, mic, {}});
    const auto read = tryEachIndex(sources.size(), [&](std::size_t i) {
        Source& source = sources[i];
        return known.of(session.takes[source.take].files[source.mic], session.rate, progress)
            .map([&](std::vector<Range<SourceFrame>> found) { source.silences = std::move(found); });
    });
    if (!read)
        return tl::unexpected(read.error());
    std::vector<ProofPlace> places;
    for (const Source& source : sources)
        for (const Range<SourceFrame>& silence : source.silences)
            for (const Segment& segment : outcome.plan->segments) {
                if (segment.take != source.take || segment.stretch)
                    continue;
                const Range<ResultFrame> heard =
                    segment.sounds.intersected({silence.begin + segment.shift, silence.end + segment.shift});
                const double ms = toMilliseconds(heard.length(), session.rate).value;
                if (heard.empty() || gravityOf(ProofKind::silent, ms) < toldGravity)
                    continue;
                if (!places.empty() && places.back().mics == onlyMic(source.mic) &&
                    heard.begin <= places.back().where.end) { // over several slices
                    places.back().where.end = std::max(places.back().where.end, heard.end);
                    continue;
                }
                ProofPlace place{heard, ProofKind::silent, ms,
                                 fmt::format("{} fell silent in the recording", session.mics[source.mic].stem),
                                 onlyMic(source.mic)};
                place.content = contentOf({static_cast<std::int64_t>(ProofKind::silent),
                                           session.takes[source.take].letter.value, silence.begin.frame,
                                           static_cast<std::int64_t>(source.mic.value)});
                places.push_back(std::move(place));
            }
    for (ProofPlace& place : places)
        place.size = toMilliseconds(place.where.length(), session.rate).value;
    return places;
}

std::optional<std::vector<float>> LevelsHeard::of(std::uint64_t content) const {
    const std::scoped_lock lock(guard_);
    const auto found = known_.find(content);
    return found == known_.end() ? std::nullopt : std::optional(found->second);
}

void LevelsHeard::add(std::uint64_t content, const std::vector<float>& levels) {
    constexpr std::size_t most = 100'000; // some 20 MB
    const std::scoped_lock lock(guard_);
    if (known_.size() >= most)
        known_.clear();
    known_.insert_or_assign(content, levels);
}

Expected<StrokeLevels> strokeLevels(const Session& session, const Outcome& outcome, const KitSoundMaker& sound,
                                    LevelsHeard* known, const Progress& progress) {
    const SoundContent content(session, *outcome.plan);
    const FrameCount length = toFrames(strokeLength, session.rate);
    const std::size_t count = outcome.hits.size();
    StrokeLevels levels(count);
    constexpr std::size_t atOnce = 64; // neighbours, which read the same stretches of the files
    std::atomic<std::size_t> done = 0;
    return tryEachIndex((count + atOnce - 1) / atOnce,
                        [&](std::size_t part) -> Expected<void> {
                            std::unique_ptr<KitSound> own; // made when something has to be listened to
                            for (std::size_t hit = part * atOnce; hit < std::min(count, (part + 1) * atOnce);
                                 ++hit) {
                                if (progress.cancelled())
                                    return fail(ErrorKind::cancelled, "The proof was stopped");
                                progress.at(static_cast<double>(++done) / static_cast<double>(count));
                                if (outcome.hits[hit].bare)
                                    continue;
                                const ResultFrame at = outcome.landings[hit].at;
                                const std::uint64_t key = content.of({at, at + length});
                                if (auto before = known ? known->of(key) : std::nullopt) {
                                    levels[hit] = std::move(*before);
                                    continue;
                                }
                                if (!own) {
                                    auto made = sound(std::make_shared<KitReader>(session));
                                    if (!made)
                                        return tl::unexpected(made.error());
                                    own = std::move(*made);
                                }
                                const auto out = stretchOf(*own, session.mics.size(), at,
                                                           static_cast<std::size_t>(length.frames));
                                if (!out)
                                    return tl::unexpected(out.error());
                                for (const auto& mic : *out)
                                    levels[hit].push_back(static_cast<float>(levelOf(mic)));
                                if (known)
                                    known->add(key, levels[hit]);
                            }
                            return {};
                        })
        .map([&] { return std::move(levels); });
}

namespace {

/// Of one take: the mic that gave the hit its date tells toms apart.
using Drum = std::tuple<TakeIndex, Voice, std::optional<MicIndex>>;
Drum drumOf(const SongHit& hit) {
    return {hit.take, hit.voice, hit.mic};
}

ProofPlace deafPlace(const Session& session, const Outcome& outcome, MicIndex mic,
                     std::span<const std::size_t> hits) {
    const Range<ResultFrame> where{outcome.landings[hits.front()].at,
                                   outcome.landings[hits.back()].at + toFrames(strokeLength, session.rate)};
    const SongHit& first = outcome.hits[hits.front()];
    ProofPlace place{where, ProofKind::silent, toMilliseconds(where.length(), session.rate).value,
                     fmt::format("{} hears nothing of strokes that it usually hears", session.mics[mic].stem),
                     onlyMic(mic)};
    place.content = contentOf({static_cast<std::int64_t>(ProofKind::silent), static_cast<std::int64_t>(mic.value),
                               first.found().frame, session.takes[first.take].letter.value});
    return place;
}

} // namespace

std::vector<ProofPlace> placesOfDeafMics(const Session& session, const Outcome& outcome,
                                         const StrokeLevels& levels) {
    // What each mic usually hears of each drum, take by take, and the softest that it hears at all.
    const std::size_t mics = session.mics.size();
    std::map<Drum, std::vector<std::vector<double>>> byDrum;
    std::vector<std::vector<double>> ofMic(mics);
    for (std::size_t hit = 0; hit < levels.size(); ++hit) {
        if (levels[hit].empty())
            continue;
        auto& drum = byDrum[drumOf(outcome.hits[hit])];
        drum.resize(mics);
        for (std::size_t mic = 0; mic < mics; ++mic) {
            drum[mic].push_back(static_cast<double>(levels[hit][mic]));
            ofMic[mic].push_back(static_cast<double>(levels[hit][mic]));
        }
    }
    std::map<Drum, std::vector<double>> usual;
    for (const auto& [drum, heard] : byDrum)
        for (const auto& mic : heard)
            usual[drum].push_back(medianOf(mic));
    std::vector<ProofPlace> places;
    for (MicIndex mic; mic < mics && mics >= 3 && !ofMic[mic].empty(); ++mic) {
        const double softest = *std::min_element(ofMic[mic].begin(), ofMic[mic].end());
        std::vector<std::size_t> deaf; // hits in a row
        const auto close = [&] {
            std::set<Drum> drums; // one alone may be another than it is taken for
            for (const std::size_t hit : deaf)
                drums.insert(drumOf(outcome.hits[hit]));
            if (deaf.size() >= fewestDeaf && drums.size() > 1)
                places.push_back(deafPlace(session, outcome, mic, deaf));
            deaf.clear();
        };
        for (std::size_t hit = 0; hit < levels.size(); ++hit) {
            if (levels[hit].empty())
                continue;
            const auto& typical = usual[drumOf(outcome.hits[hit])];
            std::vector<double> others; // how much harder or softer this one was struck
            for (std::size_t other = 0; other < mics; ++other)
                if (other != mic && typical[other] > nothing)
                    others.push_back(static_cast<double>(levels[hit][other]) - typical[other]);
            if (others.size() < 2)
                continue;
            const double expected = typical[mic] + medianOf(others);
            if (expected < std::max(nothing, softest + deafBy))
                continue; // it says nothing: the mic hears little of this drum anyway
            const auto level = static_cast<double>(levels[hit][mic]);
            if (level > expected - deafBy || level > softest + noiseSpan)
                close();
            else
                deaf.push_back(hit);
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

Expected<std::vector<ProofPlace>> placesOfPhase(const Session& session, const Outcome& outcome,
                                                const KitSoundMaker& sound, const Progress& progress) {
    std::vector<ProofPlace> places;
    std::unique_ptr<KitSound> own;
    const auto kit = std::make_shared<KitReader>(session);
    const std::int64_t reach = toFrames(phaseReach, session.rate).frames;
    const auto count = static_cast<std::size_t>(toFrames(phaseWindow, session.rate).frames + 2 * reach);
    for (const PlannedPatch& planned : outcome.plan->patches) {
        const Patch& patch = session.patches[planned.patch];
        if (!planned.from || patch.mics.empty())
            continue;
        if (progress.cancelled())
            return fail(ErrorKind::cancelled, "The proof was stopped");
        if (!own) {
            auto made = sound(std::make_shared<KitReader>(session));
            if (!made)
                return tl::unexpected(made.error());
            own = std::move(*made);
        }
        // The attack: where the patch has it whole.
        const ResultFrame at = planned.sounds.begin + patch.before - FrameCount{reach};
        double worst = 0;
        std::string pair;
        for (MicIndex patched; patched < session.mics.size(); ++patched) {
            if (!(planned.mics & onlyMic(patched)))
                continue;
            for (const std::string& stem : micsOfDrum(session, patched)) {
                const auto other = session.micNamed(stem);
                if (!other || (planned.mics & onlyMic(*other)))
                    continue;
                std::vector<float> a(count), b(count);
                if (auto read = own->readMic(patched, at, a).and_then([&] { return own->readMic(*other, at, b); });
                    !read)
                    return tl::unexpected(read.error());
                const Lag now = lagBetween(a, b, reach);
                const SourceFrame from = at - planned.from->shift;
                const auto x = kit->frames(planned.from->take, patched, from, count);
                if (!x)
                    return tl::unexpected(x.error());
                const std::vector<float> kept(x->begin(), x->end());
                const auto y = kit->frames(planned.from->take, *other, from, count);
                if (!y)
                    return tl::unexpected(y.error());
                const Lag then = lagBetween(kept, *y, reach);
                const double ms =
                    toMilliseconds(FrameCount{std::abs(now.frames - then.frames)}, session.rate).value;
                if (std::min(now.likeness, then.likeness) > 0.5 && ms > worst) {
                    worst = ms;
                    pair = fmt::format("{} and {}", session.mics[patched].stem, stem);
                }
            }
        }
        if (gravityOf(ProofKind::phase, worst) < toldGravity)
            continue;
        ProofPlace place{planned.sounds, ProofKind::phase, worst,
                         fmt::format("{} lie {} ms otherwise to one another than they were recorded", pair,
                                     trimmedNumber(worst, 2)),
                         planned.mics};
        place.content = contentOf({static_cast<std::int64_t>(ProofKind::phase), patch.at.at.frame,
                                   patch.from ? patch.from->at.frame : 0, patch.shift.frames});
        place.patch = planned.patch;
        places.push_back(std::move(place));
    }
    return places;
}

} // namespace lampo
