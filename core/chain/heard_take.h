#pragma once

#include "chain/analyses.h"
#include "comp/laid_take.h"
#include "hits/hit_finder.h"

namespace lampo {

/// All that was heard in one take: its candidates, what they know of each other, and its hits.
struct HeardTake {
    Session asked;         ///< the part of the session that all this follows from
    StrokesKey strokesKey; ///< what the strokes follow from
    std::shared_ptr<const TakeStrokes> strokes;
    std::vector<std::shared_ptr<const MicAnalysis>> heard; ///< strokes->mics: null where it was not listened to
    FoundHits found;
};

/// What `before` knows is taken over: all of it when the same was asked, and about bleed when the same was heard.
std::shared_ptr<const HeardTake> hearTake(const Session& session, std::size_t take, const Analyses& analyses,
                                          std::shared_ptr<const HeardTake> before);

/// A laid take and what it follows from.
struct KeptLay {
    Session asked;
    std::shared_ptr<const HeardTake> heard;
    std::shared_ptr<const std::vector<SongFrame>> attacks; ///< of the companion to land on, in the song
    std::shared_ptr<const LaidTake> laid;
};

/// The same laid take as in `before` when it follows from the same.
KeptLay layTake(const Session& session, const std::shared_ptr<const HeardTake>& heard,
                const std::shared_ptr<const std::vector<SongFrame>>& attacks, const Placed& where,
                Range<SongFrame> cover, std::span<const KeptLay> before);

} // namespace lampo
