#pragma once

#include "pipeline/outcome.h"
#include "session/session.h"

#include <algorithm>
#include <vector>

namespace lampo {

/// So many over the song, replacements and gains by turns, on the kit's first mics.
inline std::vector<Patch> patchesOver(const Session& session, const Outcome& outcome, std::size_t count) {
    std::vector<Patch> patches;
    const std::size_t step = std::max<std::size_t>(1, outcome.hits.size() / count);
    for (std::size_t hit = step; hit < outcome.hits.size() && patches.size() < count; hit += step) {
        Patch patch;
        patch.mics = {session.mics[0].stem, session.mics[1].stem};
        patch.at = placeOf(session, outcome.hits[hit]);
        patch.before = FrameCount{480};
        patch.length = FrameCount{9600};
        patch.gain = {-1.5};
        if (hit / step % 2 == 0) {
            patch.kind = PatchKind::replace;
            patch.from = placeOf(session, outcome.hits[hit / 2]);
        }
        patches.push_back(patch);
    }
    return patches;
}

} // namespace lampo
