#pragma once

#include "edits/seam_edits.h"
#include "seams/plan.h"

#include <functional>
#include <span>

namespace lampo {

/// Whether a seam lies between two hits of one take, so that it can be taken in hand.
inline bool canBeShaped(const Seam& seam) {
    return seam.between.has_value();
}

/// The edit that changes what is said about each of these seams, those left out that cannot be shaped: `change`
/// gets what was said so far. It is refused where none is left.
ShapeSeams shaped(const Session& session, std::span<const Seam> seams,
                  const std::function<void(const Seam& seam, SeamByHand& said)>& change);

/// They end so much later than they do, as long as before.
ShapeSeams movedSeams(const Session& session, std::span<const Seam> seams, FrameCount later);
/// They begin so much later, and end where they do.
ShapeSeams begunLater(const Session& session, std::span<const Seam> seams, FrameCount later);
/// They end so much later, and begin where they do.
ShapeSeams endedLater(const Session& session, std::span<const Seam> seams, FrameCount later);
/// As if nothing had been said.
ShapeSeams resetSeams(const Session& session, std::span<const Seam> seams);

} // namespace lampo
