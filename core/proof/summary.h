#pragma once

#include "pipeline/outcome.h"
#include "proof/place.h"
#include "timing/tightness.h"

#include <array>
#include <optional>
#include <span>
#include <string>
#include <vector>

namespace lampo {

/// How tight one drum is, against the lines that its hits mean, as its attacks sound.
struct DrumFigures {
    Voice voice = Voice::other; ///< the drum
    Tightness before;           ///< as played
    Tightness after;            ///< as landed
};

/// What can be sent along with a print.
struct ProofSummary {
    std::vector<DrumFigures> drums;                        ///< those that have hits on lines
    std::size_t hits = 0;                                  ///< that sound
    std::size_t seams = 0;                                 ///< between slices
    std::size_t patches = 0;                               ///< that sound
    std::vector<std::string> takes;                        ///< letters of those that sound
    std::array<std::size_t, proofKindNames.count> open{};  ///< places by kind, as the user left them
    std::array<std::size_t, proofKindNames.count> fine{};  ///< by kind
    std::array<std::size_t, proofKindNames.count> later{}; ///< by kind
};

/// Figures from what was heard of the attacks (see attacksHeard); where nothing was heard, from the marks. `heard`:
/// one for each hit, or empty.
ProofSummary summaryOf(const Session& session, const Outcome& outcome,
                       std::span<const std::optional<Milliseconds>> heard);
/// Counts what is open and what was answered.
void countPlaces(ProofSummary& summary, std::span<const ProofPlace> places);

} // namespace lampo
