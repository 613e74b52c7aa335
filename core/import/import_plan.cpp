#include "import/import_plan.h"

#include "audio/rate_converter.h"
#include "base/text.h"
#include "import/folder_import.h"
#include "import/source_search.h"
#include "import/take_files.h"
#include "session/validate.h"

#include <algorithm>
#include <array>
#include <fmt/core.h>
#include <map>
#include <set>

namespace lampo {
namespace {

namespace fs = std::filesystem;
using Use = ImportItem::Use;

/// A group's own name when it is a letter that is still free, otherwise the next free one.
std::optional<TakeLetter> letterFor(const TakeFiles& group, bool several, std::set<TakeLetter>& taken) {
    const std::string said = splitTakeName(group.name).take.empty() ? group.name : splitTakeName(group.name).take;
    if (several && said.size() == 1) {
        const auto letter = TakeLetter::of(static_cast<char>(lowered(said).front() - 'a' + 'A'));
        if (letter && taken.insert(*letter).second)
            return letter;
    }
    for (char next = TakeLetter::first; const auto letter = TakeLetter::of(next); ++next)
        if (taken.insert(*letter).second)
            return letter;
    return std::nullopt;
}

/// One item for each channel; what stands beside the kit stays whole.
void addItems(const fs::path& file, const std::string& stem, TakeLetter take, std::vector<ImportItem>& items) {
    const auto info =
        isOtherAudioKind(file)
            ? Expected<AudioInfo>(fail(ErrorKind::unreadable, quotedName(file) +
                                                                  " is of a kind that is not read: convert it "
                                                                  "to WAV or FLAC, or leave it out"))
            : probeAudio(file);
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
            item.mic = fmt::format("{} {}", stem, channel + 1);
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
    return fmt::format("{} s", trimmedNumber(toSeconds(length, rate).value));
}

/// A mic of another name that stands where one of the kit's stands ("SnTop" and "snare top") is that mic, as long
/// as its take has no file for it.
void matchToKit(std::vector<ImportItem>& items, const std::vector<Mic>& kit) {
    const auto has = [&](TakeLetter take, const std::string& stem) {
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

std::vector<TakeLetter> ImportPlan::takes() const {
    std::set<TakeLetter> letters;
    for (const ImportItem& item : items)
        if (item.use == Use::mic)
            letters.insert(item.take);
    return {letters.begin(), letters.end()};
}

std::optional<MicIndex> ImportPlan::rankOf(const ImportItem& item) const {
    for (MicIndex mic; item.use == Use::mic && mic < mics.size(); ++mic)
        if (mics[mic].stem == item.mic)
            return mic;
    return std::nullopt;
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
                ? fmt::format("mean of {} channels", item.info.channels)
                : fmt::format("channel {} of {}", item.source.channel + 1, item.info.channels));
    if (item.info.lacksLength)
        say(fmt::format("its header holds no length, as after a power cut: all {} to the file's end are taken",
                        seconds(item.info.length, item.info.rate)));
    if (item.info.rate != rate)
        say(fmt::format("converted from {} to {} Hz", item.info.rate.hz, rate.hz));
    FrameCount longest;
    for (const ImportItem& other : items)
        if (other.use == Use::mic && other.take == item.take && !other.error)
            longest = std::max(longest, convertedLength(other.info, rate));
    const FrameCount own = convertedLength(item.info, rate);
    if (item.use == Use::mic && own < longest)
        say(fmt::format("ends {} before the others: silence follows", seconds(longest - own, rate)));
    return text;
}

void ImportPlan::settle() {
    std::set<std::pair<TakeLetter, std::string>> places;
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
    const auto groups = takeFilesOf(inputs);
    if (!groups)
        return tl::unexpected(groups.error());
    ImportPlan plan;
    plan.title = nameOfFolder(fs::absolute(inputs.front()).lexically_normal());
    std::set<TakeLetter> letters;
    if (into)
        for (const Take& take : into->takes)
            letters.insert(take.letter);
    const auto takes =
        std::count_if(groups->begin(), groups->end(), [](const TakeFiles& p) { return !p.standsBeside(); });
    for (const TakeFiles& group : *groups) {
        const auto letter =
            group.standsBeside() ? std::optional(TakeLetter{}) : letterFor(group, takes > 1, letters);
        if (!letter)
            return fail(ErrorKind::badValue, "A project has at most 26 takes: bring in fewer folders at once");
        for (const auto& [file, stem] : group.files)
            addItems(file, stem, *letter, plan.items);
    }
    plan.rate = into && !into->empty() ? into->rate : commonRate(plan.items);
    matchToKit(plan.items, firstKit(plan, into));
    std::vector<std::string> stems;
    for (const ImportItem& item : plan.items)
        if (item.use == Use::mic && std::find(stems.begin(), stems.end(), item.mic) == stems.end())
            stems.push_back(item.mic);
    if (stems.size() > limits::mics)
        return fail(ErrorKind::badValue, fmt::format("{} holds files for {} mics, each channel one, but a kit has "
                                                     "at most {}: choose the folder of one take",
                                                     quotedName(inputs.front()), stems.size(), limits::mics));
    plan.mics = kitOf(stems);
    plan.settle();
    for (Mic& mic : plan.mics) { // what the project knows about a mic stays
        const auto known = into ? into->micNamed(mic.stem) : std::nullopt;
        if (known)
            mic = into->mics[*known];
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
        if (!session.micNamed(mic.stem)) {
            session.mics.push_back(mic);
            for (Take& take : session.takes)
                take.files.emplace_back();
        }
    const auto sourceOf = [&](const ImportItem& item) {
        SourceFile source = item.source;
        source.length = convertedLength(item.info, plan.rate);
        return source;
    };
    for (const TakeLetter letter : plan.takes()) {
        Take take{letter, {}, std::vector<SourceFile>(session.mics.size()), {}, {}};
        for (const ImportItem& item : plan.items) {
            if (item.use != Use::mic || item.error || item.take != letter)
                continue;
            take.files.set(*session.micNamed(item.mic), sourceOf(item));
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
    session = fingerprinted(std::move(session));
    if (auto valid = validate(session); !valid) // sessions that could not be opened again are not begun
        return tl::unexpected(valid.error());
    return session;
}

} // namespace lampo
