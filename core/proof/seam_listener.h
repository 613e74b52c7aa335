#pragma once

#include "base/progress.h"
#include "pipeline/outcome.h"
#include "proof/hear_each.h"
#include "proof/place.h"

#include <vector>

namespace lampo {

/// What one joint sounds like, each figure in the mic where it is worst, and the mics in which it is told.
struct JointHeard {
    /// One measure.
    struct Figure {
        double worst = 0; ///< in the unit of its kind's scale
        MicSet mics = 0;  ///< where it is above what is told
        /// Takes over what one mic says.
        void add(double size, ProofKind kind, MicIndex mic);
    };
    Figure dip;   ///< dB that 8 ms fall under the quieter side
    Figure bump;  ///< dB that they rise over the louder side
    Figure click; ///< the largest step from sample to sample, over the largest within 50 ms in both sides
    Figure ring;  ///< dB of change above 3.5 kHz that it adds to 50 ms around it, in mics that hear cymbals
    Figure swell; ///< dB by which a tail that sounds again is louder than what it goes on from, in the same mics
};

/// Joints that were heard before.
using JointsHeard = HeardBefore<JointHeard>;

/// Listens to all seams and to where patches begin and end, on all cores. `known`: null where nothing may be taken
/// from before, since the sound does not follow from the session alone: its levels are then its
/// own, and a joint is judged against those beside it. Errors: those of AudioReader, cancelled.
Expected<std::vector<ProofPlace>> placesOfJoints(const Session& session, const Outcome& outcome,
                                                 const KitSoundMaker& sound, JointsHeard* known,
                                                 const Progress& progress);

} // namespace lampo
