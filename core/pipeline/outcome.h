#pragma once

#include "comp/choice.h"
#include "pipeline/analysed_take.h"
#include "seams/plan.h"
#include "warnings/warnings.h"

namespace lampo {

/// Everything that follows from a session and its analyses. Immutable; handed from thread to thread by pointer.
struct Outcome {
    std::vector<std::shared_ptr<const AnalysedTake>> takes; ///< one per take
    std::shared_ptr<const std::vector<SongFrame>> attacks;  ///< of the companion to land on, in the song
    std::vector<KeptLay> lays;                              ///< each take in its own place, then what else sounds
    Choice choice;                                          ///< which take's hits sound where
    std::vector<SongHit> hits;                              ///< those that sound, in the order they land
    std::vector<Landing> landings;                          ///< one per hit
    std::vector<Correction> lost;      ///< of takes that sound: those that no longer find their hit
    std::vector<SeamByHand> lostSeams; ///< of takes that sound: those one of whose hits is gone
    std::vector<Patch> lostPatches;    ///< of takes that sound: those whose hit is gone
    std::shared_ptr<const Plan> plan;  ///< where every slice comes from and sounds; never null
    std::vector<Warning> warnings;     ///< what is worth an ear, in order of time
};

/// All stages behind the candidates, in one go: no audio is touched, and a ten-minute session takes a few
/// milliseconds, so every change simply calls this again. What the outcome before knows and is not changed is taken
/// over: swapping a range to another take finds and lands no hit anew. Pure.
std::shared_ptr<const Outcome> outcomeOf(const Session& session, const Analyses& analyses,
                                         const Outcome* before = nullptr);

/// The take laid in its own place around a place in the song; null in empty bars.
std::shared_ptr<const LaidTake> ownLay(const Session& session, const Outcome& outcome, TakeIndex take,
                                       SongFrame place);

/// One take as it was recorded, from its begin to its end (or that of the form).
std::shared_ptr<const Plan> recordedPlan(const Session& session, TakeIndex take);

/// The cuts alone, for judging the timing before the joints: holes stay open, and slices that overlap meet by the
/// shortest fade.
std::shared_ptr<const Plan> rawPlan(const Session& session, const Outcome& outcome);

/// Every seam where the rule puts it, whatever was found or said: what the search and the hand are judged by.
std::shared_ptr<const Plan> ruledPlan(const Session& session, const Outcome& outcome);

/// The comp as it was played: every hit where it was recorded, with seams only between takes.
std::shared_ptr<const Plan> playedPlan(const Session& session, const Outcome& outcome);

} // namespace lampo
