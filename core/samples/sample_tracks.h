#pragma once

#include "base/progress.h"
#include "mix/note_sound.h"
#include "pipeline/outcome.h"
#include "samples/fit.h"

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

/// How a file fits the sample's drum: the offset and polarity at which it is most like the drum's loudest strokes,
/// by their sum; `polarity`: one that is settled. Nothing where the drum is not struck. Errors: those of
/// AudioReader.
Expected<std::optional<Fit>> suggestedFit(const Session& session, const Outcome& outcome, const DrumSample& sample,
                                          const SourceFile& file, std::optional<bool> polarity);

/// The sample with every file where it fits, and the polarity that fits its loudest layer. Errors: as above.
Expected<DrumSample> fitted(const Session& session, const Outcome& outcome, DrumSample sample);

} // namespace lampo
