#include "pipeline/analyses.h"

#include "base/parallel.h"
#include "hits/detection.h"
#include "pipeline/candidate_cache.h"
#include "pipeline/companion_attacks.h"

#include <algorithm>
#include <mutex>
#include <numeric>
#include <optional>

namespace lampo {
namespace {

Expected<MicAnalysis> analyse(const AnalysisKey& key, const Progress& progress) {
    return AudioReader::open(key.source, key.rate).and_then([&](AudioReader reader) {
        return findOnsets(reader, onsetSettings(key.emphasis), progress);
    });
}

/// From the cache where it is known, and into it where it was not. A cache that cannot be written is no trouble.
Expected<MicAnalysis> analyseOrRecall(const AnalysisKey& key, const Progress& progress,
                                      const std::filesystem::path& folder) {
    if (folder.empty())
        return analyse(key, progress);
    const auto place = cachedCandidates(folder, key);
    if (!place)
        return analyse(key, progress);
    if (auto known = readCandidates(*place))
        return std::move(*known);
    auto analysed = analyse(key, progress);
    if (analysed)
        (void)writeCandidates(*place, *analysed);
    return analysed;
}

} // namespace

AnalysisKey analysisKey(const Session& session, const Take& take, MicIndex mic) {
    return {take.files[mic], session.rate, emphasisOf(session.mics[mic])};
}

std::shared_ptr<const MicAnalysis> Analyses::of(const AnalysisKey& key) const {
    const auto found = known_.find(key);
    return found == known_.end() ? nullptr : found->second;
}

std::vector<std::shared_ptr<const MicAnalysis>> Analyses::of(const Session& session, const Take& take) const {
    std::vector<std::shared_ptr<const MicAnalysis>> perMic;
    for (MicIndex mic; mic < session.mics.size(); ++mic)
        perMic.push_back(of(analysisKey(session, take, mic)));
    return perMic;
}

void Analyses::add(const AnalysisKey& key, std::shared_ptr<const MicAnalysis> analysis) {
    known_[key] = std::move(analysis);
}

std::shared_ptr<const TakeStrokes> Analyses::strokesOf(const StrokesKey& key) const {
    const auto found =
        std::find_if(strokes_.begin(), strokes_.end(), [&](const auto& known) { return known.first == key; });
    return found == strokes_.end() ? nullptr : found->second;
}

void Analyses::add(StrokesKey key, std::shared_ptr<const TakeStrokes> strokes) {
    constexpr std::size_t kept = 32; // a few for each take: a change of a drum that is undone
    if (strokesOf(key))
        return;
    if (strokes_.size() == kept)
        strokes_.erase(strokes_.begin());
    strokes_.emplace_back(std::move(key), std::move(strokes));
}

void Analyses::merge(const Analyses& others) {
    known_.insert(others.known_.begin(), others.known_.end());
    for (const auto& [key, strokes] : others.strokes_)
        add(key, strokes);
    seams_.merge(others.seams_);
}

std::vector<AnalysisKey> Analyses::missing(const Session& session, Listen to) const {
    std::vector<AnalysisKey> keys;
    const auto want = [&](bool witnesses, bool sounding) {
        for (TakeIndex take; take < session.takes.size(); ++take)
            for (MicIndex mic; session.sounds(take) == sounding && mic < session.mics.size(); ++mic) {
                if (isWitness(session, mic) != witnesses || session.takes[take].files[mic].empty())
                    continue;
                const AnalysisKey key = analysisKey(session, session.takes[take], mic);
                if (!of(key))
                    keys.push_back(key);
            }
    };
    const auto wantCompanions = [&](auto&& which) {
        for (const Companion& companion : session.companions)
            if (const AnalysisKey key = companionKey(session, companion);
                which(companion) && !companion.file.empty() && !of(key))
                keys.push_back(key);
    };
    const auto followed = [&](const Companion& companion) {
        return session.companionLines && session.companionLines->name == companion.name;
    };
    want(true, true);
    wantCompanions(followed);
    if (to == Listen::toEveryMic) {
        want(true, false);
        want(false, true);
        want(false, false);
        wantCompanions([&](const Companion& companion) { return !followed(companion); });
    }
    return keys;
}

Expected<void> analyseMissing(const Session& session, Analyses& analyses, Listen to, const Progress& progress,
                              const std::filesystem::path& cacheFolder) {
    const auto keys = analyses.missing(session, to);
    std::mutex guard;
    std::vector<double> fractions(keys.size());
    const auto reportAs = [&](std::size_t job, double fraction) {
        const std::scoped_lock lock(guard);
        fractions[job] = fraction;
        progress.at(std::accumulate(fractions.begin(), fractions.end(), 0.0) /
                    static_cast<double>(fractions.size()));
    };
    auto listened = tryEachIndex(keys.size(), [&](std::size_t job) -> Expected<void> {
        const Progress own{[&, job](double fraction) { reportAs(job, fraction); }, progress.stop};
        auto found = analyseOrRecall(keys[job], own, cacheFolder);
        if (!found)
            return tl::unexpected(found.error());
        const std::scoped_lock lock(guard);
        analyses.add(keys[job], std::make_shared<const MicAnalysis>(std::move(*found)));
        return {};
    });
    if (listened)
        forEachIndex(session.takes.size(), [&](std::size_t take) {
            auto key = strokesKeyOf(session, analyses.of(session, session.takes[take]));
            {
                const std::scoped_lock lock(guard);
                if (analyses.strokesOf(key))
                    return;
            }
            auto strokes = std::make_shared<const TakeStrokes>(findStrokes(session, key.analyses));
            const std::scoped_lock lock(guard);
            analyses.add(std::move(key), std::move(strokes));
        });
    return listened;
}

} // namespace lampo
