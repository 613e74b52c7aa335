#pragma once

#include "seams/plan.h"
#include "session/session.h"
#include "support/ears.h"
#include "support/random_kit.h"

#include <memory>
#include <optional>
#include <span>
#include <vector>

namespace lampo::test {

/// What a seam sounds like, read from the rendered sound of all mics beside that of both sides.
struct SeamSound {
    Range<ResultFrame> range; ///< of the seam
    double dip =
        0; ///< dB that 8 ms fall under the quieter side's, in the mic where it is worst and that sounds there
    double bump = 0; ///< and rise over the louder side's
    double click =
        0; ///< the largest step from sample to sample inside, over the largest within 50 ms in both sources
    double level = 0; ///< dB that 2 ms lie off what leads from one side's level to the other's; the worst mic
    std::optional<double>
        ring; ///< dB of change above 3.5 kHz that the seam adds to 50 ms around it; where overheads sound
};

/// Of all seams in which two slices sound together. Renders only around them.
std::vector<SeamSound> soundsOfSeams(const Session& session, const std::shared_ptr<const Plan>& plan);

/// What became of strokes that do not lead: hats, rides, crashes.
struct FollowerFigures {
    Share swallowed; ///< less than half of the power of the first 10 ms sounds in any slice
    Share doubled;   ///< more than a sixteenth of it sounds in a second one
};
FollowerFigures followersOf(const RandomKit& kit, const Plan& plan);

} // namespace lampo::test
