#include "import/take_files.h"

#include "base/text.h"
#include "import/take_names.h"
#include "session/role.h"

#include <algorithm>
#include <array>
#include <fmt/core.h>
#include <functional>
#include <map>
#include <span>
#include <string_view>

namespace lampo {
namespace {

namespace fs = std::filesystem;

constexpr std::array<std::string_view, 9> readKinds{".wav",  ".wave", ".bwf",  ".rf64", ".bw64",
                                                    ".flac", ".aif",  ".aiff", ".aifc"};
constexpr std::array<std::string_view, 16> otherKinds{".mp3", ".ogg", ".oga",  ".opus", ".caf", ".m4a",
                                                      ".aac", ".wma", ".w64",  ".ac3",  ".au",  ".snd",
                                                      ".ape", ".wv",  ".alac", ".mp2"};

bool endsInOneOf(std::span<const std::string_view> endings, const fs::path& file) {
    return std::find(endings.begin(), endings.end(), lowered(file.extension().string())) != endings.end() &&
           !file.filename().string().starts_with('.');
}

struct FolderContent {
    std::vector<fs::path> files; ///< of audio, read or not
    std::vector<fs::path> folders;
};

Expected<FolderContent> contentOf(const fs::path& folder) {
    std::error_code code;
    if (!fs::is_directory(folder, code))
        return fail(ErrorKind::notFound, fmt::format("There is no folder {} (looked for \"{}\")",
                                                     quotedName(folder), visible(folder.string())));
    FolderContent content;
    for (const auto& entry : fs::directory_iterator(folder, code)) {
        std::error_code ofEntry; // a link to nothing, say, which is told when it is opened
        if (entry.is_directory(ofEntry)) {
            if (!entry.path().filename().string().starts_with('.'))
                content.folders.push_back(entry.path());
        } else if (isReadAudioKind(entry.path()) || isOtherAudioKind(entry.path())) {
            content.files.push_back(entry.path());
        }
    }
    if (code)
        return fail(ErrorKind::unreadable,
                    fmt::format("The folder {} could not be read: {}", quotedName(folder), code.message()));
    std::sort(content.files.begin(), content.files.end());
    std::sort(content.folders.begin(), content.folders.end());
    return content;
}

/// One group, or one for each take that the names speak of. What is not read has no say in it and lies in the
/// first.
std::vector<TakeFiles> takeFilesOf(std::vector<fs::path> files, const std::string& name) {
    const auto firstOther = std::stable_partition(files.begin(), files.end(), std::not_fn(isOtherAudioKind));
    std::vector<std::string> stems;
    for (auto file = files.begin(); file != firstOther; ++file)
        stems.push_back(file->stem().string());
    const auto named = takesByName(stems);
    const auto order = [&](std::size_t i) { // "2" before "10"
        return named ? std::pair((*named)[i].take.size(), (*named)[i].take) : std::pair(std::size_t{0}, name);
    };
    std::map<std::pair<std::size_t, std::string>, TakeFiles> groups;
    for (std::size_t i = 0; i < stems.size(); ++i) {
        TakeFiles& group = groups[order(i)];
        group.name = named ? (*named)[i].take : name;
        group.files.emplace_back(files[i], named ? (*named)[i].mic : stems[i]);
    }
    std::vector<TakeFiles> sorted;
    sorted.reserve(groups.size());
    for (auto& [key, group] : groups)
        sorted.push_back(std::move(group));
    if (sorted.empty())
        sorted.push_back({name, {}});
    for (auto file = firstOther; file != files.end(); ++file)
        sorted.front().files.emplace_back(*file, file->stem().string());
    return sorted;
}

bool readsAny(const std::vector<fs::path>& files) {
    return std::any_of(files.begin(), files.end(), isReadAudioKind);
}

/// A folder's own files, or else those of the folders in it. What is not read makes no take.
Expected<std::vector<TakeFiles>> takeFilesIn(const fs::path& folder) {
    const auto content = contentOf(folder);
    if (!content)
        return tl::unexpected(content.error());
    if (readsAny(content->files))
        return takeFilesOf(content->files, nameOfFolder(folder));
    std::vector<TakeFiles> groups;
    std::vector<fs::path> others = content->files;
    for (const fs::path& below : content->folders) {
        const auto inside = contentOf(below);
        if (inside && readsAny(inside->files))
            for (TakeFiles& group : takeFilesOf(inside->files, nameOfFolder(below)))
                groups.push_back(std::move(group));
        else if (inside)
            others.insert(others.end(), inside->files.begin(), inside->files.end());
    }
    if (groups.empty() && others.empty())
        return fail(ErrorKind::noAudio,
                    fmt::format("The folder {} holds no WAV, FLAC or AIFF files: choose the folder of one take",
                                quotedName(folder)));
    if (groups.empty())
        groups.push_back({nameOfFolder(folder), {}});
    for (const fs::path& other : others)
        groups.front().files.emplace_back(other, other.stem().string());
    return groups;
}

} // namespace

bool TakeFiles::standsBeside() const {
    return std::all_of(files.begin(), files.end(),
                       [](const auto& file) { return soundsBesideTheKit(file.second); });
}

bool isReadAudioKind(const fs::path& file) {
    return endsInOneOf(readKinds, file);
}

bool isOtherAudioKind(const fs::path& file) {
    return endsInOneOf(otherKinds, file);
}

std::string nameOfFolder(const fs::path& folder) {
    return (folder.has_filename() ? folder : folder.parent_path()).filename().string();
}

Expected<std::vector<TakeFiles>> takeFilesOf(const std::vector<fs::path>& inputs) {
    std::vector<TakeFiles> groups;
    std::vector<fs::path> loose;
    for (const fs::path& given : inputs) {
        const fs::path input = fs::absolute(given).lexically_normal();
        std::error_code code;
        if (fs::is_regular_file(input, code)) {
            loose.push_back(input);
            continue;
        }
        auto found = takeFilesIn(input);
        if (!found)
            return found;
        std::move(found->begin(), found->end(), std::back_inserter(groups));
    }
    if (!loose.empty())
        for (TakeFiles& group : takeFilesOf(loose, nameOfFolder(loose.front().parent_path())))
            groups.push_back(std::move(group));
    return groups;
}

} // namespace lampo
