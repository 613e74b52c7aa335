#pragma once

#include "hits/take_strokes.h"
#include "session/session.h"

#include <memory>

namespace lampo {

/// The hits of one take, and what became of every candidate.
struct FoundHits {
    std::vector<Hit> hits; ///< in order of time
    /// Per mic of the session (empty for mics that do not guide), parallel to its candidates.
    std::vector<std::vector<JudgedCandidate>> judged;
    std::vector<Correction> lost; ///< corrections that no longer find their hit
};

/// Chooses among the candidates of a take's guides by who struck, threshold and shortest gap, joins what falls
/// together, and obeys the corrections. Pure.
FoundHits findHits(const Session& session, const Take& take, const TakeStrokes& strokes);

} // namespace lampo
