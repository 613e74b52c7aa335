#include "project/folder_import.h"

#include "audio/audio_reader.h"
#include "base/text.h"
#include "hits/hit.h"

#include <algorithm>
#include <array>
#include <set>
#include <tuple>

namespace lampo {
namespace {

namespace fs = std::filesystem;

bool isAudioName(const fs::path& file) {
    constexpr std::array<std::string_view, 7> endings{".wav", ".wave", ".bwf", ".flac", ".aif", ".aiff", ".rf64"};
    const std::string ending = lowered(file.extension().string());
    return std::find(endings.begin(), endings.end(), ending) != endings.end() &&
           !file.filename().string().starts_with('.');
}

Expected<std::vector<fs::path>> audioFilesIn(const fs::path& folder) {
    std::error_code code;
    if (!fs::is_directory(folder, code))
        return fail(ErrorKind::notFound,
                    "There is no folder " + quotedName(folder) + " (looked for \"" + folder.string() + "\")");
    std::vector<fs::path> files;
    for (const auto& entry : fs::directory_iterator(folder, code))
        if (entry.is_regular_file(code) && isAudioName(entry.path()))
            files.push_back(entry.path());
    if (code)
        return fail(ErrorKind::unreadable,
                    "The folder " + quotedName(folder) + " could not be read: " + code.message());
    if (files.empty())
        return fail(ErrorKind::noAudio, "The folder " + quotedName(folder) +
                                            " holds no WAV, FLAC or AIFF files: choose the folder of one take");
    std::sort(files.begin(), files.end());
    return files;
}

Expected<void> checkNames(const std::vector<fs::path>& files) {
    if (files.size() > mostMics)
        return fail(ErrorKind::badValue, "The folder " + quotedName(files.front().parent_path()) + " holds " +
                                             std::to_string(files.size()) + " audio files, but a kit has at most " +
                                             std::to_string(mostMics) + " mics: choose the folder of one take");
    std::set<std::string> stems;
    for (const auto& file : files)
        if (!stems.insert(file.stem().string()).second)
            return fail(ErrorKind::badValue, quotedName(file) +
                                                 " has the same name as another file of its folder but for "
                                                 "the ending: keep one of them");
    return {};
}

std::string secondsOf(const AudioInfo& info) {
    return trimmedNumber(toSeconds(info.length, info.rate).value) + " s";
}

/// All files of a take have to agree with the first, or nothing after this works.
Expected<AudioInfo> agreedInfo(const std::vector<fs::path>& files) {
    std::optional<AudioInfo> first;
    for (const auto& file : files) {
        const auto reader = AudioReader::open(file);
        if (!reader)
            return tl::unexpected(reader.error());
        const AudioInfo& info = reader->info();
        if (!first)
            first = info;
        if (info.rate != first->rate)
            return fail(ErrorKind::rateDiffers, quotedName(file) + " has " + std::to_string(info.rate.hz) +
                                                    " Hz but " + quotedName(files.front()) + " has " +
                                                    std::to_string(first->rate.hz) +
                                                    " Hz: bring all files of a take to one sample rate");
        if (info.length != first->length)
            return fail(ErrorKind::lengthDiffers,
                        quotedName(file) + " lasts " + secondsOf(info) + " but " + quotedName(files.front()) +
                            " lasts " + secondsOf(*first) +
                            ": export all files of a take from the same start to the same end");
    }
    return *first;
}

auto kitOrder(const std::string& stem) {
    const RoleGuess guess = guessRole(stem);
    return std::tuple(guess.role, guess.number, guess.place, lowered(stem));
}

} // namespace

std::vector<Mic> kitOf(const std::vector<std::string>& stems) {
    std::vector<std::string> ordered = stems;
    std::sort(ordered.begin(), ordered.end(),
              [](const auto& a, const auto& b) { return kitOrder(a) < kitOrder(b); });
    std::vector<Mic> mics;
    std::set<std::pair<Role, int>> guided;
    for (const std::string& stem : ordered) {
        const RoleGuess guess = guessRole(stem);
        const bool tellsTheTruth = guess.role == Role::kick || guess.role == Role::snare || guess.role == Role::tom;
        Mic mic;
        mic.stem = stem;
        mic.role = guess.role;
        mic.guide = tellsTheTruth && guided.insert({guess.role, guess.number}).second;
        mics.push_back(mic);
    }
    return mics;
}

Expected<Session> importFolder(const std::filesystem::path& given) {
    const fs::path folder = fs::absolute(given).lexically_normal();
    const auto files = audioFilesIn(folder);
    if (!files)
        return tl::unexpected(files.error());
    if (auto named = checkNames(*files); !named)
        return tl::unexpected(named.error());
    const auto info = agreedInfo(*files);
    if (!info)
        return tl::unexpected(info.error());

    std::vector<std::string> stems;
    for (const auto& file : *files)
        stems.push_back(file.stem().string());
    Session session;
    session.title = (folder.has_filename() ? folder : folder.parent_path()).filename().string();
    session.rate = info->rate;
    session.mics = kitOf(stems);
    Take take{'A', folder, {}, {}, info->length};
    for (const Mic& mic : session.mics)
        take.files.push_back(*std::find_if(files->begin(), files->end(),
                                           [&](const auto& file) { return file.stem().string() == mic.stem; }));
    session.takes.push_back(take);
    return session;
}

} // namespace lampo
