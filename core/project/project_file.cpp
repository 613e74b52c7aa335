#include "project/project_file.h"

#include "base/text.h"
#include "base/whole_file.h"
#include "import/folder_import.h"
#include "import/source_search.h"
#include "project/project_json.h"
#include "session/recording_files.h"

#include <algorithm>

namespace lampo {
namespace fs = std::filesystem;

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

Expected<Session> openInput(const fs::path& input) {
    if (!isProject(input))
        return importFolder(input);
    auto session = loadProject(input);
    if (!session)
        return session;
    const auto problems = checkSources(*session);
    return problems.empty() ? session : tl::unexpected(problems.front().error);
}

} // namespace lampo
