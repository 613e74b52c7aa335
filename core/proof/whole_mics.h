#pragma once

#include "proof/kit_sound.h"

#include <cstdint>
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

} // namespace lampo
