#pragma once

#include "hits/song_hit.h"

#include <string>
#include <vector>

namespace lampo {

/// Which mics a repair lies on.
struct PatchMics {
    /// How they are told.
    enum class Which {
        own,   ///< those of the drum that a hit is a stroke of
        all,   ///< the whole kit
        these, ///< those that are named
    };
    Which which = Which::own;         ///< how they are told
    std::vector<std::string> these{}; ///< stems, of Which::these

    /// Stems, in the kit's order; none where a hit has no drum with a mic, or none is named.
    std::vector<std::string> of(const Session& session, const SongHit& hit) const;
};

/// The mics of one drum, by what a stroke was found in: those of its group; of kick and snare all that stand at it.
std::vector<std::string> micsOfDrum(const Session& session, MicIndex mic);

} // namespace lampo
