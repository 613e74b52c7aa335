#pragma once

#include "base/error.h"
#include "base/progress.h"
#include "hits/take_strokes.h"
#include "seams/seam_answers.h"
#include "session/session.h"

#include <filesystem>
#include <map>
#include <memory>
#include <vector>

namespace lampo {

/// What is analysed, and how: all that a mic's candidates depend on.
struct AnalysisKey {
    SourceFile source;      ///< the file, and which of its channels
    SampleRate rate;        ///< of the session
    BandWeights emphasis{}; ///< the bands that are listened for
    auto operator<=>(const AnalysisKey&) const = default;
};
AnalysisKey analysisKey(const Session& session, const Take& take, MicIndex mic);

/// Hits need the witnesses of the takes that sound (see isWitness), and the companion that they land on. The
/// other mics' candidates tell whether files start together, those of the other takes what they could give, those
/// of companions what feel they have.
enum class Listen { toWitnesses, toEveryMic };

/// The candidates of every mic that was analysed so far. A value: copies share the analyses, which never change.
class Analyses {
public:
    /// Null where there is none.
    std::shared_ptr<const MicAnalysis> of(const AnalysisKey& key) const;
    /// One for each mic of the session, null where there is none.
    std::vector<std::shared_ptr<const MicAnalysis>> of(const Session& session, const Take& take) const;
    /// Replaces what was known under the key.
    void add(const AnalysisKey& key, std::shared_ptr<const MicAnalysis> analysis);

    /// Who struck in a take, when that was found before; else null.
    std::shared_ptr<const TakeStrokes> strokesOf(const StrokesKey& key) const;
    /// Replaces what was known under the key.
    void add(StrokesKey key, std::shared_ptr<const TakeStrokes> strokes);

    /// Where seams sound best, as far as it was looked for.
    const SeamAnswers& seams() const { return seams_; }
    /// Takes over what others found.
    void add(const SeamAnswers& seams) { seams_.merge(seams); }

    /// Takes over all that `others` know.
    void merge(const Analyses& others);

    /// What the session wants and is not there: witnesses of takes that sound first, then all of them, then the
    /// rest.
    std::vector<AnalysisKey> missing(const Session& session, Listen to) const;

    /// All of them, by what was analysed.
    const std::map<AnalysisKey, std::shared_ptr<const MicAnalysis>>& all() const { return known_; }

private:
    std::map<AnalysisKey, std::shared_ptr<const MicAnalysis>> known_;
    std::vector<std::pair<StrokesKey, std::shared_ptr<const TakeStrokes>>> strokes_; ///< the newest last
    SeamAnswers seams_;
};

/// Analyses all that is missing, on all cores, then finds the strokes of each take. With a folder, candidates are
/// kept there by the content of their files (see candidate_cache.h) and fetched from there when they are known.
/// Errors: those of findOnsets; what was finished before is kept.
Expected<void> analyseMissing(const Session& session, Analyses& analyses, Listen to, const Progress& progress,
                              const std::filesystem::path& cacheFolder = {});

} // namespace lampo
