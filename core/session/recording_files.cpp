#include "session/recording_files.h"

#include <fmt/core.h>

namespace lampo {

ProtectedFiles recordingFiles(const Session& session) {
    ProtectedFiles kept;
    for (const Take& take : session.takes)
        for (const SourceFile& source : take.files)
            kept.add(source.file, fmt::format("a file of the recording (take {})", take.letter.text()));
    for (const Companion& companion : session.companions)
        kept.add(companion.file.file, "a companion of the recording");
    eachSampleFile(session.samples, [&](const DrumSample& sample, const SourceFile& file) {
        kept.add(file.file, "a file of the sample " + sample.name);
    });
    return kept;
}

} // namespace lampo
