#pragma once

#include "edits/edit.h"
#include "pipeline/outcome.h"

#include <span>

namespace lampo {

/// Edits by hand on chosen hits, given as indices into the outcome's hits, ascending. Each is one step. Errors:
/// badValue with a sentence that says what to choose.

/// A run of chosen hits, first to last, that are of one take laid at one place.
struct HandPassage {
    std::size_t first;        ///< the first hit of it
    std::size_t last;         ///< the last hit of it
    TakeLetter take;          ///< the one take that all of it is of
    Range<SourceFrame> range; ///< holds the hits, and no others
};
Expected<HandPassage> passageOf(const Session& session, const Outcome& outcome, std::span<const HitIndex> chosen);

Expected<Edit> phraseEdit(const Session& session, const Outcome& outcome, std::span<const HitIndex> chosen,
                          double ease);
/// Index into the session's phrases of the one that holds the hit; none.
std::optional<std::size_t> phraseAt(const Session& session, const Outcome& outcome, HitIndex hit);
/// So that the passage is moved by that much, whatever it was moved by before.
Expected<Edit> shoveEdit(const Session& session, const Outcome& outcome, std::span<const HitIndex> chosen,
                         FrameCount by);
Expected<Edit> slipEdit(const Session& session, const Outcome& outcome, std::span<const HitIndex> chosen,
                        FrameCount by);
Expected<Edit> clearByHandEdit(const Session& session, const Outcome& outcome, std::span<const HitIndex> chosen);

/// To the line `lines` further (negative: before) than the one each of them means; all together by the same.
Expected<Edit> sendEdit(const Session& session, const Outcome& outcome, std::span<const HitIndex> chosen,
                        int lines);
/// The chosen hits land so many frames further than they do.
Expected<Edit> nudgeEdit(const Session& session, const Outcome& outcome, std::span<const HitIndex> chosen,
                         FrameCount by);
/// Grid steps further, each by the step of its own line.
Expected<Edit> stepNudgeEdit(const Session& session, const Outcome& outcome, std::span<const HitIndex> chosen,
                             int steps);

} // namespace lampo
