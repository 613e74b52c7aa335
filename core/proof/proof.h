#pragma once

#include "proof/attack_listener.h"
#include "proof/place.h"
#include "proof/seam_listener.h"
#include "proof/silences.h"
#include "proof/stroke_levels.h"
#include "proof/summary.h"

#include <filesystem>
#include <memory>
#include <vector>

namespace lampo {

/// What was heard in proofs before, by content: only what changed is listened to again. Any thread.
struct ProofMemory {
    JointsHeard joints;     ///< seams, and where patches begin and end
    AttacksHeard attacks;   ///< of hits
    LevelsHeard levels;     ///< of hits, in every mic
    SilencesHeard silences; ///< of files
};

/// What listening to an edit found.
struct Proof {
    std::vector<ProofPlace> places; ///< the worst first, each with what the user said of it
    ProofSummary summary;           ///< figures
};

/// Listens to what the edit sounds like, beside what hits and plan tell. The outcome's seams should have been
/// searched for. Errors: those of AudioReader, cancelled.
Expected<Proof> proofOf(const Session& session, const Outcome& outcome, ProofMemory& memory,
                        const Progress& progress);

/// Listens to files that were printed from this edit, and perhaps worked on since, instead. Errors: contentDiffers
/// (they are of something else), those of PrintedSound::open, cancelled.
Expected<Proof> proofOfPrint(const Session& session, const Outcome& outcome, const std::filesystem::path& folder,
                             const Progress& progress);

/// What hits and plan tell without listening, for showing at once. Pure.
std::vector<ProofPlace> placesWithoutListening(const Session& session, const Outcome& outcome);

/// Each place with what the session's user said of it; the worst first.
void answerPlaces(std::vector<ProofPlace>& places, const Session& session);

} // namespace lampo
