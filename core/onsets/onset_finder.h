#pragma once

#include "audio/audio_reader.h"
#include "base/progress.h"
#include "onsets/band_energies.h"
#include "onsets/candidate.h"

namespace lampo {

/// What the finder looks for.
struct OnsetSettings {
    BandEnergies weights{1, 1, 1, 1}; ///< per band, amplitudes; all above 0
    Milliseconds least{12};           ///< candidates nearer than this are one whatever the settings
    /// Above the local median, if all weight lay on that band: the deeper a band, the fewer cycles a hop holds and
    /// the more its energy swings without any attack.
    BandEnergies leastRise{6.0F, 5.2F, 3.0F, 2.0F}; ///< dB
    Decibels floor{-55};                            ///< what is this far below the strong hits is silence
    bool keepsSounds = true;                        ///< see MicAnalysis::sounds
};

/// Finds every possible onset of one mic: sharp ones; where the lowest band counts also those that only the high
/// bands show, as of a beater over the drum's own ring; where it hardly counts also soft ones, as of brushes, with
/// nothing sharp near. Reads the file twice: once for the energies of short hops, once around each onset for the
/// exact start of its attack. Memory: about 30 bytes per hop of 64 frames. Errors: those of AudioReader::read,
/// cancelled.
Expected<MicAnalysis> findOnsets(AudioReader& reader, const OnsetSettings& settings, const Progress& progress);

/// The start of the strongest attack within `reach` of a place that a user pointed at, whatever its level; the
/// place itself where nothing begins. Errors: those of AudioReader::read.
Expected<SourceFrame> attackNear(AudioReader& reader, SourceFrame at, Milliseconds reach);

} // namespace lampo
