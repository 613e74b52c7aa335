#pragma once

#include "base/progress.h"
#include "pipeline/outcome.h"
#include "proof/kit_sound.h"
#include "proof/place.h"

#include <vector>

namespace lampo {

/// What was done to a whole mic of a print.
struct WholeMic {
    std::int64_t lag = 0;        ///< frames that it lies later
    double gain = 1;             ///< negative: upside down
    bool expectedSounds = false; ///< in the edit
    bool sounds = false;         ///< in the print
    bool alike = false;          ///< both are the same sound somewhere
    double usual = 0;            ///< mean square of what differs throughout
    double usualShare = 0;       ///< the same, of what is expected
};
/// One for each mic, by stretches all over the song. Errors: those of AudioReader.
Expected<std::vector<WholeMic>> wholeMicsOf(const Session& session, const KitSoundMaker& expected,
                                            const KitSoundMaker& heard);
/// The print without what was done to whole mics: lined up with the edit, and at its level.
KitSoundMaker linedUp(const KitSoundMaker& heard, const std::vector<WholeMic>& whole);

/// Where a print is not what the edit sounds like, and what became of it there. `heard` is lined up. Levels of
/// whole mics, a polarity and a delay of all of them are taken for granted, and what differs throughout, as after
/// an equaliser, counts only where there is more of it. Streams; memory does not grow with the song. Errors: those
/// of AudioReader, cancelled.
Expected<std::vector<ProofPlace>> placesOfDifferences(const Session& session, const Outcome& outcome,
                                                      const std::vector<WholeMic>& whole,
                                                      const KitSoundMaker& expected, const KitSoundMaker& heard,
                                                      const Progress& progress);

} // namespace lampo
