#pragma once

#include "base/progress.h"
#include "pipeline/outcome.h"
#include "proof/place.h"

#include <map>
#include <mutex>
#include <vector>

namespace lampo {

/// Where files are silent that sound nearly always, by what is read. Any thread.
class SilencesHeard {
public:
    /// Stretches of at least a twentieth of a second below −96 dBFS in a file that is silent for less than a fifth
    /// of its length: reads it whole when it was not read before. Errors: those of AudioReader, cancelled.
    Expected<std::vector<Range<SourceFrame>>> of(const SourceFile& file, SampleRate rate, const Progress& progress);

private:
    std::mutex guard_;
    std::map<std::pair<SourceFile, SampleRate>, std::vector<Range<SourceFrame>>> known_;
};

/// Where the result plays what a mic did not record: the mic fell silent in the recording. Errors: those of
/// AudioReader, cancelled.
Expected<std::vector<ProofPlace>> placesOfSilence(const Session& session, const Outcome& outcome,
                                                  SilencesHeard& known, const Progress& progress);

} // namespace lampo
