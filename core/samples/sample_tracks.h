#pragma once

#include "base/progress.h"
#include "mix/note_sound.h"
#include "pipeline/outcome.h"

namespace lampo {

/// What a sample plays.
struct SampleTrack {
    std::string name;                        ///< of the sample
    std::shared_ptr<const NoteSounds> notes; ///< never null
};

/// What all of them play, in order of time; null where there are none.
std::shared_ptr<const NoteSounds> allNotes(const std::vector<SampleTrack>& tracks);

/// All samples that are on, each with a recording at every hit of its drum that is not left out: in its layer by
/// the hit's level, its files in turn, as loud against the layer's level as the hit is. Each lies where it fits the
/// real attack as its drum's mic heard it (nearestFit, within 6 ms of where its file's offset puts it); one that
/// fits nowhere stays there. Errors: those of AudioReader (of samples and mics), cancelled.
Expected<std::vector<SampleTrack>> sampleTracks(const Session& session, const Outcome& outcome,
                                                const Progress& progress);

/// The sample with every file where it fits: at the offset at which it is most like the drum's loudest strokes, by
/// their sum, all in the polarity that fits the loudest layer. As it was where the drum is not struck. Errors:
/// those of AudioReader; a file that is too long for one stroke.
Expected<DrumSample> fitted(const Session& session, const Outcome& outcome, DrumSample sample);

} // namespace lampo
