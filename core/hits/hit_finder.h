#pragma once

#include "hits/bleed.h"
#include "session/session.h"

#include <memory>

namespace lampo {

/// What the mics of a take know about each other's drums, and which candidates that explains. Depends on nothing
/// that is set while listening (thresholds, gaps, corrections), so it is kept while those change.
struct BleedJudgement {
    BleedMatrix matrix;
    /// Per mic of the session, parallel to its candidates: the mic whose drum explains it, or the mic itself. Empty
    /// for mics that do not guide.
    std::vector<std::vector<std::size_t>> explainedBy;
};

/// `analyses` has an entry per mic of the session, null where it was not listened to.
BleedJudgement judgeBleed(const Session& session, std::span<const MicAnalysis* const> analyses);

/// The hits of one take, and what became of every candidate.
struct FoundHits {
    std::vector<Hit> hits; ///< in order of time
    /// Per mic of the session (empty for mics that do not guide), parallel to its candidates.
    std::vector<std::vector<JudgedCandidate>> judged;
    std::vector<Correction> lost; ///< corrections that no longer find their hit
};

/// Chooses among the candidates of a take's guides by threshold, bleed and shortest gap, joins what falls together,
/// and obeys the corrections. `analyses` has an entry per mic of the session, null where it was not analysed. Pure.
FoundHits findHits(const Session& session, const Take& take, std::span<const MicAnalysis* const> analyses,
                   const BleedJudgement& bleed);
FoundHits findHits(const Session& session, const Take& take, std::span<const MicAnalysis* const> analyses);

} // namespace lampo
