#pragma once

#include "comp/laid_take.h"
#include "hits/hit_finder.h"
#include "pipeline/analyses.h"

namespace lampo {

/// What analysis found in one take: its candidates, what they know of each other, and its hits.
struct AnalysedTake {
    Session inputs;                                       ///< the part of the session that all this follows from
    StrokesKey strokesKey;                                ///< what the strokes follow from
    std::shared_ptr<const TakeStrokes> strokes;           ///< null where nothing was analysed
    std::vector<std::shared_ptr<const MicAnalysis>> mics; ///< strokes->mics: null where it was not analysed
    FoundHits found;                                      ///< and what became of every candidate
};

/// What `before` knows is taken over: all of it where the inputs are the same, and the strokes where the same was
/// analysed.
std::shared_ptr<const AnalysedTake> analyseTake(const Session& session, TakeIndex take, const Analyses& analyses,
                                                std::shared_ptr<const AnalysedTake> before);

/// A laid take and what it follows from.
struct KeptLay {
    Session inputs;                                        ///< the part of the session that it follows from
    std::shared_ptr<const AnalysedTake> take;              ///< whose hits are laid
    std::shared_ptr<const std::vector<SongFrame>> attacks; ///< of the companion to land on, in the song
    std::shared_ptr<const LaidTake> laid;                  ///< where the hits land
};

/// The same laid take as in `before` when it follows from the same.
KeptLay layTake(const Session& session, const std::shared_ptr<const AnalysedTake>& analysed,
                const std::shared_ptr<const std::vector<SongFrame>>& attacks, const LayOrder& order,
                std::span<const KeptLay> before);

} // namespace lampo
