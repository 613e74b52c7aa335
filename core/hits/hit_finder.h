#pragma once

#include "hits/bleed.h"
#include "session/session.h"

namespace lampo {

/// The hits of one take, and what became of every candidate.
struct FoundHits {
    std::vector<Hit> hits; ///< in order of time
    /// Per mic of the session (empty for mics that do not guide), parallel to its candidates.
    std::vector<std::vector<JudgedCandidate>> judged;
    std::vector<Correction> lost; ///< corrections that no longer find their hit
};

/// Chooses among the candidates of a take's guides by threshold, bleed and shortest gap, and joins what falls
/// together. `analyses` has an entry per mic of the session, null where it was not analysed. Pure.
FoundHits findHits(const Session& session, char take, std::span<const MicAnalysis* const> analyses);

} // namespace lampo
