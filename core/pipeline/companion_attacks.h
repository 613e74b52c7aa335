#pragma once

#include "pipeline/analyses.h"

namespace lampo {

/// How a companion is analysed: all bands alike.
AnalysisKey companionKey(const Session& session, const Companion& companion);

/// Where the attacks of a companion lie in the song, ascending: those at or above the threshold (relative to its
/// typical strong attack), once for every time that the form plays them. Empty when it was not analysed yet.
std::vector<SongFrame> companionAttacks(const Session& session, const Analyses& analyses, const std::string& name,
                                        Decibels threshold);

} // namespace lampo
