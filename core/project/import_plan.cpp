#include "project/import_plan.h"

#include "audio/rate_converter.h"
#include "base/text.h"
#include "hits/hit.h"
#include "project/folder_import.h"
#include "project/take_names.h"
#include "session/validate.h"

#include <algorithm>
#include <array>
#include <map>
#include <set>

namespace lampo {
namespace {

namespace fs = std::filesystem;
using Use = ImportItem::Use;

/// The files of one take, before anything is known about them.
struct Pile {
    std::string name;                                    ///< of the take: its folder's, or what the file names say
    std::vector<std::pair<fs::path, std::string>> files; ///< with the mic's stem
};

bool isAudioName(const fs::path& file) {
    constexpr std::array<std::string_view, 7> endings{".wav", ".wave", ".bwf", ".flac", ".aif", ".aiff", ".rf64"};
    const std::string ending = lowered(file.extension().string());
    return std::find(endings.begin(), endings.end(), ending) != endings.end() &&
           !file.filename().string().starts_with('.');
}

struct FolderContent {
    std::vector<fs::path> files;
    std::vector<fs::path> folders;
};

Expected<FolderContent> contentOf(const fs::path& folder) {
    std::error_code code;
    if (!fs::is_directory(folder, code))
        return fail(ErrorKind::notFound,
                    "There is no folder " + quotedName(folder) + " (looked for \"" + folder.string() + "\")");
    FolderContent content;
    for (const auto& entry : fs::directory_iterator(folder, code)) {
        if (entry.is_regular_file(code) && isAudioName(entry.path()))
            content.files.push_back(entry.path());
        else if (entry.is_directory(code) && !entry.path().filename().string().starts_with('.'))
            content.folders.push_back(entry.path());
    }
    if (code)
        return fail(ErrorKind::unreadable,
                    "The folder " + quotedName(folder) + " could not be read: " + code.message());
    std::sort(content.files.begin(), content.files.end());
    std::sort(content.folders.begin(), content.folders.end());
    return content;
}

std::string nameOf(const fs::path& folder) {
    return (folder.has_filename() ? folder : folder.parent_path()).filename().string();
}

/// One pile, or one for each take that the names speak of.
std::vector<Pile> pilesOf(const std::vector<fs::path>& files, const std::string& name) {
    std::vector<std::string> stems;
    for (const auto& file : files)
        stems.push_back(file.stem().string());
    const auto named = takesByName(stems);
    if (!named) {
        Pile pile{name, {}};
        for (std::size_t i = 0; i < files.size(); ++i)
            pile.files.emplace_back(files[i], stems[i]);
        return {pile};
    }
    const auto number = [](const std::string& take) { // "2" before "10"
        return std::pair(take.size(), take);
    };
    std::map<std::pair<std::size_t, std::string>, Pile> piles;
    for (std::size_t i = 0; i < files.size(); ++i) {
        Pile& pile = piles[number((*named)[i].take)];
        pile.name = (*named)[i].take;
        pile.files.emplace_back(files[i], (*named)[i].mic);
    }
    std::vector<Pile> sorted;
    for (auto& [order, pile] : piles)
        sorted.push_back(std::move(pile));
    return sorted;
}

bool standsBeside(const Pile& pile) {
    return std::all_of(pile.files.begin(), pile.files.end(),
                       [](const auto& file) { return soundsBesideTheKit(file.second); });
}

Expected<std::vector<Pile>> pilesIn(const fs::path& folder) {
    const auto content = contentOf(folder);
    if (!content)
        return tl::unexpected(content.error());
    if (!content->files.empty())
        return pilesOf(content->files, nameOf(folder));
    std::vector<Pile> piles;
    for (const fs::path& below : content->folders)
        if (const auto inside = contentOf(below); inside && !inside->files.empty())
            for (Pile& pile : pilesOf(inside->files, nameOf(below)))
                piles.push_back(std::move(pile));
    if (piles.empty())
        return fail(ErrorKind::noAudio, "The folder " + quotedName(folder) +
                                            " holds no WAV, FLAC or AIFF files: choose the folder of one take");
    return piles;
}

Expected<std::vector<Pile>> pilesOfAll(const std::vector<fs::path>& inputs) {
    std::vector<Pile> piles;
    std::vector<fs::path> loose;
    for (const fs::path& given : inputs) {
        const fs::path input = fs::absolute(given).lexically_normal();
        std::error_code code;
        if (fs::is_regular_file(input, code)) {
            loose.push_back(input);
            continue;
        }
        auto found = pilesIn(input);
        if (!found)
            return found;
        std::move(found->begin(), found->end(), std::back_inserter(piles));
    }
    if (!loose.empty())
        for (Pile& pile : pilesOf(loose, nameOf(loose.front().parent_path())))
            piles.push_back(std::move(pile));
    return piles;
}

/// A pile's own name when it is a letter that is still free, otherwise the next free one.
std::optional<char> letterFor(const Pile& pile, bool several, std::set<char>& taken) {
    const std::string said = splitTakeName(pile.name).take.empty() ? pile.name : splitTakeName(pile.name).take;
    if (several && said.size() == 1) {
        const char letter = lowered(said).front() - 'a' + 'A';
        if ('A' <= letter && letter <= 'Z' && taken.insert(letter).second)
            return letter;
    }
    for (char letter = 'A'; letter <= 'Z'; ++letter)
        if (taken.insert(letter).second)
            return letter;
    return std::nullopt;
}

/// One item for each channel; what stands beside the kit stays whole.
void addItems(const fs::path& file, const std::string& stem, char take, std::vector<ImportItem>& items) {
    const auto info = probeAudio(file);
    ImportItem item;
    item.source.file = file;
    item.take = take;
    item.mic = stem;
    if (!info) {
        item.use = Use::leaveOut;
        item.error = info.error();
        items.push_back(item);
        return;
    }
    item.info = *info;
    if (soundsBesideTheKit(stem)) {
        item.use = Use::companion;
        item.source.channel = info->channels > 1 ? SourceFile::everyChannel : 0;
        items.push_back(item);
        return;
    }
    for (int channel = 0; channel < info->channels; ++channel) {
        item.source.channel = channel;
        if (info->channels == 2)
            item.mic = stem + (channel == 0 ? " L" : " R");
        else if (info->channels > 2)
            item.mic = stem + " " + std::to_string(channel + 1);
        items.push_back(item);
    }
}

/// The rate most files have; of two, the higher.
SampleRate commonRate(const std::vector<ImportItem>& items) {
    std::map<SampleRate, int> counts;
    for (const ImportItem& item : items)
        if (!item.error && item.use == Use::mic)
            ++counts[item.info.rate];
    const auto most = std::max_element(counts.begin(), counts.end(), [](const auto& a, const auto& b) {
        return std::pair(a.second, a.first) < std::pair(b.second, b.first);
    });
    return most == counts.end() ? SampleRate{} : most->first;
}

FrameCount convertedLength(const AudioInfo& info, SampleRate rate) {
    return RateConverter(info.rate, rate).converted(info.length);
}

std::string seconds(FrameCount length, SampleRate rate) {
    return trimmedNumber(toSeconds(length, rate).value) + " s";
}

/// A mic of another name that stands where one of the kit's stands ("SnTop" and "snare top") is that mic, as long
/// as its take has no file for it.
void matchToKit(std::vector<ImportItem>& items, const std::vector<Mic>& kit) {
    const auto has = [&](char take, const std::string& stem) {
        return std::any_of(items.begin(), items.end(), [&](const ImportItem& item) {
            return item.use == Use::mic && item.take == take && item.mic == stem;
        });
    };
    for (ImportItem& item : items) {
        if (item.use != Use::mic ||
            std::any_of(kit.begin(), kit.end(), [&](const Mic& m) { return m.stem == item.mic; }))
            continue;
        const auto same = std::find_if(kit.begin(), kit.end(), [&](const Mic& mic) {
            if (has(item.take, mic.stem))
                return false;
            const RoleGuess a = guessRole(mic.stem), b = guessRole(item.mic);
            return lowered(mic.stem) == lowered(item.mic) ||
                   (a.role != Role::other && a == b && a.role != Role::overhead && a.role != Role::room);
        });
        if (same != kit.end())
            item.mic = same->stem;
    }
}

/// What the first take of the plan calls its mics is what the others are matched to.
std::vector<Mic> firstKit(const ImportPlan& plan, const Session* into) {
    if (into && !into->empty())
        return into->mics;
    std::vector<std::string> stems;
    const auto takes = plan.takes();
    for (const ImportItem& item : plan.items)
        if (item.use == Use::mic && !takes.empty() && item.take == takes.front())
            stems.push_back(item.mic);
    return kitOf(stems);
}

} // namespace

std::vector<char> ImportPlan::takes() const {
    std::set<char> letters;
    for (const ImportItem& item : items)
        if (item.use == Use::mic)
            letters.insert(item.take);
    return {letters.begin(), letters.end()};
}

std::size_t ImportPlan::rankOf(const ImportItem& item) const {
    const auto found = std::find_if(mics.begin(), mics.end(), [&](const Mic& mic) { return mic.stem == item.mic; });
    return static_cast<std::size_t>(item.use == Use::mic ? found - mics.begin() : mics.end() - mics.begin());
}

std::string ImportPlan::notice(const ImportItem& item) const {
    if (item.error)
        return item.error->sentence;
    if (item.use == Use::leaveOut)
        return "is left out";
    std::string text;
    const auto say = [&](const std::string& part) { text += (text.empty() ? "" : "; ") + part; };
    if (item.info.channels > 1)
        say(item.source.channel == SourceFile::everyChannel
                ? "mean of " + std::to_string(item.info.channels) + " channels"
                : "channel " + std::to_string(item.source.channel + 1) + " of " +
                      std::to_string(item.info.channels));
    if (item.info.rate != rate)
        say("converted from " + std::to_string(item.info.rate.hz) + " to " + std::to_string(rate.hz) + " Hz");
    FrameCount longest;
    for (const ImportItem& other : items)
        if (other.use == Use::mic && other.take == item.take && !other.error)
            longest = std::max(longest, convertedLength(other.info, rate));
    const FrameCount own = convertedLength(item.info, rate);
    if (item.use == Use::mic && own < longest)
        say("ends " + seconds(longest - own, rate) + " before the others: silence follows");
    return text;
}

void ImportPlan::settle() {
    std::set<std::pair<char, std::string>> places;
    std::vector<std::string> stems;
    for (ImportItem& item : items) {
        const bool doubled = item.error && item.error->kind == ErrorKind::badValue;
        if (doubled)
            item.error.reset();
        if (item.use != Use::mic || item.error)
            continue;
        if (places.emplace(item.take, item.mic).second)
            stems.push_back(item.mic);
        else
            item.error =
                Error{ErrorKind::badValue, quotedName(item.source.file) + " has the same name as another "
                                                                          "file of its take: keep one of "
                                                                          "them, or name the mic otherwise"};
    }
    std::erase_if(mics,
                  [&](const Mic& mic) { return std::find(stems.begin(), stems.end(), mic.stem) == stems.end(); });
    std::sort(stems.begin(), stems.end());
    stems.erase(std::unique(stems.begin(), stems.end()), stems.end());
    std::erase_if(stems, [&](const std::string& stem) {
        return std::any_of(mics.begin(), mics.end(), [&](const Mic& mic) { return mic.stem == stem; });
    });
    for (Mic& mic : kitOf(stems))
        mics.push_back(std::move(mic));
}

Expected<ImportPlan> planImport(const std::vector<fs::path>& inputs, const Session* into) {
    const auto piles = pilesOfAll(inputs);
    if (!piles)
        return tl::unexpected(piles.error());
    ImportPlan plan;
    plan.title = nameOf(fs::absolute(inputs.front()).lexically_normal());
    std::set<char> letters;
    if (into)
        for (const Take& take : into->takes)
            letters.insert(take.letter);
    const auto takes = std::count_if(piles->begin(), piles->end(), [](const Pile& p) { return !standsBeside(p); });
    for (const Pile& pile : *piles) {
        const auto letter = standsBeside(pile) ? std::optional('A') : letterFor(pile, takes > 1, letters);
        if (!letter)
            return fail(ErrorKind::badValue, "A project has at most 26 takes: bring in fewer folders at once");
        for (const auto& [file, stem] : pile.files)
            addItems(file, stem, *letter, plan.items);
    }
    plan.rate = into && !into->empty() ? into->rate : commonRate(plan.items);
    matchToKit(plan.items, firstKit(plan, into));
    std::vector<std::string> stems;
    for (const ImportItem& item : plan.items)
        if (item.use == Use::mic && std::find(stems.begin(), stems.end(), item.mic) == stems.end())
            stems.push_back(item.mic);
    if (stems.size() > mostMics)
        return fail(ErrorKind::badValue, quotedName(inputs.front()) + " holds " + std::to_string(stems.size()) +
                                             " audio files, but a kit has at most " + std::to_string(mostMics) +
                                             " mics: choose the folder of one take");
    plan.mics = kitOf(stems);
    plan.settle();
    for (Mic& mic : plan.mics) { // what the project knows about a mic stays
        const std::size_t known = into ? into->micNamed(mic.stem) : 0;
        if (into && known < into->mics.size())
            mic = into->mics[known];
    }
    return plan;
}

Expected<Session> sessionOf(const ImportPlan& plan, const Session* into) {
    Session session = into ? *into : Session{};
    const bool fresh = session.empty();
    if (fresh) {
        session.title = plan.title;
        session.rate = plan.rate;
    }
    for (const Mic& mic : plan.mics)
        if (session.micNamed(mic.stem) == session.mics.size()) {
            session.mics.push_back(mic);
            for (Take& take : session.takes)
                take.files.emplace_back();
        }
    const auto sourceOf = [&](const ImportItem& item) {
        SourceFile source = item.source;
        source.length = convertedLength(item.info, plan.rate);
        return source;
    };
    for (const char letter : plan.takes()) {
        Take take{letter, {}, std::vector<SourceFile>(session.mics.size()), {}, {}};
        for (const ImportItem& item : plan.items) {
            if (item.use != Use::mic || item.error || item.take != letter)
                continue;
            take.files[session.micNamed(item.mic)] = sourceOf(item);
            take.folder = item.source.file.parent_path();
            take.length = std::max(take.length, convertedLength(item.info, plan.rate));
        }
        if (take.length > FrameCount{})
            session.takes.push_back(std::move(take));
    }
    for (const ImportItem& item : plan.items)
        if (item.use == Use::companion && !item.error)
            session.companions.push_back({item.mic, sourceOf(item), {-6}, false});
    if (session.takes.empty())
        return fail(ErrorKind::noAudio, "Nothing is left to bring in: give at least one file a mic and a take");
    if (auto valid = validate(session); !valid) // sessions that could not be opened again are not begun
        return tl::unexpected(valid.error());
    return session;
}

} // namespace lampo
