#include "project/project_file.h"

#include "audio/audio_reader.h"
#include "base/text.h"
#include "base/whole_file.h"
#include "project/folder_import.h"
#include "project/project_json.h"
#include "session/recording_files.h"

#include <algorithm>

namespace lampo {
namespace {

namespace fs = std::filesystem;

std::optional<Error> unfit(const SourceFile& source, SampleRate rate) {
    const auto reader = AudioReader::open(source, rate);
    if (!reader)
        return reader.error();
    const bool known = source.length != FrameCount{};
    if (known && SourceFrame{0} + reader->info().length != source.end())
        return Error{ErrorKind::lengthDiffers, quotedName(source.file) +
                                                   " is no longer as long as when it was brought in: put the "
                                                   "original file back"};
    return std::nullopt;
}

} // namespace

bool isProject(const fs::path& file) {
    return lowered(file.extension().string()) == ".lampo";
}

Expected<void> saveProject(const Session& session, const fs::path& file) {
    return recordingFiles(session).mayWrite(file).and_then(
        [&] { return writeAtomically(file, projectText(session, fs::absolute(file).parent_path())); });
}

Expected<Session> loadProject(const fs::path& file) {
    return readWhole(file, largestProject, "project").and_then([&](const std::string& text) {
        return sessionFromText(text, fs::absolute(file).parent_path(), quotedName(file));
    });
}

std::vector<Error> checkSources(const Session& session) {
    std::vector<Error> errors;
    const auto check = [&](const SourceFile& source) {
        if (auto error = source.empty() ? std::nullopt : unfit(source, session.rate))
            errors.push_back(*error);
    };
    for (const Take& take : session.takes)
        std::for_each(take.files.begin(), take.files.end(), check);
    for (const Companion& companion : session.companions)
        check(companion.file);
    return errors;
}

Expected<Session> openInput(const fs::path& input) {
    if (!isProject(input))
        return importFolder(input);
    auto session = loadProject(input);
    if (!session)
        return session;
    const auto errors = checkSources(*session);
    return errors.empty() ? session : tl::unexpected(errors.front());
}

} // namespace lampo
