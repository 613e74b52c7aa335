#pragma once

#include "timing/landing.h"

#include <vector>

namespace lampo {

/// Hits marked as riding move by what lies between their neighbours' moves, in proportion to when they were played,
/// so a roll keeps its proportions; outside the first or last other hit as that one does.
void rideBetween(std::span<Landing> landings, const std::vector<bool>& rides);

/// The hits of one phrase.
struct PhraseHits {
    std::size_t first; ///< its first hit
    std::size_t last;  ///< its last one, at least two further
    double ease;       ///< see Phrase
};

/// The session's phrases that have hits here.
std::vector<PhraseHits> phrasesOf(const Session& session, const Placed& where, std::span<const Hit> hits);

/// Inner hits of phrases keep their proportions, eased towards where they landed so far; those that a user placed
/// stay. The first and the last have landed.
void keepProportions(const std::vector<PhraseHits>& phrases, std::span<Landing> landings, std::vector<bool>& rides);

} // namespace lampo
