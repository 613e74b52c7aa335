#include "songs.h"

#include "audio/sample_format.h"
#include "base/text.h"
#include "base/whole_file.h"
#include "project/project_file.h"

#include <algorithm>
#include <fmt/core.h>

namespace lampo::cli {
namespace {

namespace fs = std::filesystem;

constexpr std::uintmax_t largestList = 1U << 20; ///< bytes

struct Inside {
    std::vector<fs::path> projects, folders;
    bool audio = false;
};

Inside inside(const fs::path& folder) {
    Inside found;
    std::error_code code;
    for (const auto& entry : fs::directory_iterator(folder, code)) {
        if (entry.path().filename().string().starts_with('.'))
            continue;
        std::error_code unknown;
        if (entry.is_directory(unknown))
            found.folders.push_back(entry.path());
        else if (isProject(entry.path()))
            found.projects.push_back(entry.path());
        else
            found.audio = found.audio || containerOf(entry.path().extension().string()).has_value();
    }
    std::sort(found.projects.begin(), found.projects.end());
    std::sort(found.folders.begin(), found.folders.end());
    return found;
}

/// Nothing where there is no song in it.
std::vector<fs::path> songsOf(const fs::path& folder, bool deeper) {
    const Inside found = inside(folder);
    if (!found.projects.empty())
        return found.projects;
    if (found.audio)
        return {folder};
    std::vector<fs::path> songs;
    for (const fs::path& each : found.folders)
        if (deeper)
            for (fs::path& song : songsOf(each, false))
                songs.push_back(std::move(song));
    return songs;
}

Expected<std::vector<fs::path>> songsInList(const fs::path& list) {
    const auto text = readWhole(list, largestList, "list");
    if (!text)
        return tl::unexpected(text.error());
    std::vector<fs::path> songs;
    for (std::string line : split(*text, '\n')) {
        const auto end = line.find_last_not_of(" \t\r");
        line.resize(end == std::string::npos ? 0 : end + 1);
        if (line.empty() || line.front() == '#')
            continue;
        const fs::path path = list.parent_path() / line;
        std::error_code unknown;
        auto found = fs::is_directory(path, unknown) ? songsIn(path) : std::vector{path};
        if (!found)
            found = std::vector{path}; // opening it says what is wrong
        songs.insert(songs.end(), found->begin(), found->end());
    }
    if (songs.empty())
        return fail(ErrorKind::noAudio, fmt::format("The list {} names no song", quotedName(list)));
    return songs;
}

} // namespace

Expected<std::vector<fs::path>> songsIn(const fs::path& path) {
    std::error_code unknown;
    if (!fs::exists(path, unknown))
        return fail(ErrorKind::notFound, fmt::format("There is no {}", quotedName(path)));
    if (isProject(path))
        return std::vector{path};
    if (!fs::is_directory(path, unknown))
        return songsInList(path);
    auto songs = songsOf(path, true);
    if (songs.empty())
        return fail(ErrorKind::noAudio, fmt::format("There is no song in {}", quotedName(path)));
    return songs;
}

} // namespace lampo::cli
