#include "project/project_file.h"

#include "audio/audio_reader.h"
#include "project/atomic_file.h"
#include "project/folder_import.h"
#include "project/project_json.h"

#include <fstream>
#include <sstream>

namespace lampo {
namespace {

namespace fs = std::filesystem;

constexpr std::uintmax_t largestProject = 64U << 20;

std::optional<Error> unfit(const fs::path& file, SampleRate rate, std::optional<FrameCount> length) {
    const auto reader = AudioReader::open(file);
    if (!reader)
        return reader.error();
    if (reader->info().rate != rate)
        return Error{ErrorKind::rateDiffers, quotedName(file) + " has " + std::to_string(reader->info().rate.hz) +
                                                 " Hz but the project has " + std::to_string(rate.hz) + " Hz"};
    if (length && reader->info().length != *length)
        return Error{ErrorKind::lengthDiffers, quotedName(file) +
                                                   " is no longer as long as when it was brought in: put the "
                                                   "original file back"};
    return std::nullopt;
}

} // namespace

Expected<void> saveProject(const Session& session, const fs::path& file) {
    return writeAtomically(file, projectText(session, fs::absolute(file).parent_path()));
}

Expected<Session> loadProject(const fs::path& file) {
    std::error_code code;
    if (!fs::is_regular_file(file, code))
        return fail(ErrorKind::notFound,
                    "There is no project " + quotedName(file) + " (looked for \"" + file.string() + "\")");
    if (fs::file_size(file, code) > largestProject)
        return fail(ErrorKind::damagedProject, quotedName(file) + " is too large to be a Lampo project");
    std::ifstream in(file, std::ios::binary);
    std::ostringstream text;
    text << in.rdbuf();
    if (!in)
        return fail(ErrorKind::unreadable, quotedName(file) + " could not be read");
    return sessionFromText(text.str(), fs::absolute(file).parent_path(), quotedName(file));
}

std::vector<Error> checkSources(const Session& session) {
    std::vector<Error> errors;
    const auto check = [&](const fs::path& file, std::optional<FrameCount> length) {
        if (auto error = unfit(file, session.rate, length))
            errors.push_back(*error);
    };
    for (const Take& take : session.takes)
        for (const auto& file : take.files)
            if (!file.empty())
                check(file, take.length);
    for (const Companion& companion : session.companions)
        check(companion.file, std::nullopt);
    return errors;
}

Expected<Session> openInput(const fs::path& input) {
    if (input.extension() != ".lampo")
        return importFolder(input);
    auto session = loadProject(input);
    if (!session)
        return session;
    const auto errors = checkSources(*session);
    return errors.empty() ? session : tl::unexpected(errors.front());
}

} // namespace lampo
