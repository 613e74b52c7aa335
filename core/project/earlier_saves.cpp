#include "project/earlier_saves.h"

#include "base/whole_file.h"
#include "project/project_file.h"
#include "project/project_json.h"

#include <algorithm>
#include <charconv>
#include <chrono>

namespace lampo {
namespace {

namespace fs = std::filesystem;
constexpr const char* ending = ".lampo";

} // namespace

Expected<void> keepEarlierSave(const fs::path& project, const fs::path& folder, std::size_t most) {
    std::error_code code;
    if (!fs::is_regular_file(project, code))
        return {};
    const auto text = readWhole(project, largestProject, "project");
    if (!text)
        return {}; // what cannot be read cannot be kept, and does not keep anyone from saving
    const auto saves = earlierSaves(folder);
    if (!saves.empty())
        if (const auto last = readWhole(saves.front().file, largestProject, "project"); last && *last == *text)
            return {};
    fs::create_directories(folder, code);
    std::int64_t now =
        std::chrono::duration_cast<std::chrono::milliseconds>(std::chrono::system_clock::now().time_since_epoch())
            .count();
    if (!saves.empty())
        now = std::max(now, saves.front().at + 1); // a clock may go back
    auto kept = writeAtomically(folder / (std::to_string(now) + ending), *text);
    for (std::size_t s = most; kept && s <= saves.size(); ++s)
        fs::remove(saves[s - 1].file, code);
    return kept;
}

std::vector<EarlierSave> earlierSaves(const fs::path& folder) {
    std::vector<EarlierSave> saves;
    std::error_code code;
    for (fs::directory_iterator entry(folder, code), end; !code && entry != end; entry.increment(code)) {
        const std::string stem = entry->path().stem().string();
        std::int64_t at = 0;
        const auto read = std::from_chars(stem.data(), stem.data() + stem.size(), at);
        if (entry->path().extension() == ending && read.ec == std::errc{} && read.ptr == stem.data() + stem.size())
            saves.push_back({entry->path(), at});
    }
    std::sort(saves.begin(), saves.end(), [](const auto& a, const auto& b) { return a.at > b.at; });
    return saves;
}

Expected<Session> loadEarlierSave(const EarlierSave& save, const fs::path& project) {
    return readWhole(save.file, largestProject, "project").and_then([&](const std::string& text) {
        return sessionFromText(text, fs::absolute(project).parent_path(), quotedName(save.file));
    });
}

} // namespace lampo
