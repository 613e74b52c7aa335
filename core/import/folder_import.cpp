#include "import/folder_import.h"

#include "base/text.h"
#include "import/import_plan.h"

#include <algorithm>
#include <fmt/core.h>
#include <set>
#include <tuple>

namespace lampo {
namespace {

auto kitOrder(const std::string& stem) {
    const RoleGuess guess = guessRole(stem);
    return std::tuple(guess.role, guess.number, guess.place, lowered(stem));
}

std::string drumName(const RoleGuess& guess) {
    constexpr int firstFloorTom = 50; // see tomNumber()
    const std::string drum(name(guess.role));
    return guess.role != Role::tom         ? drum
           : guess.number >= firstFloorTom ? "floor " + drum
                                           : fmt::format("{} {}", drum, guess.number);
}

/// "overheads L" and "overheads R" are halves of "overheads".
std::string wholeOfHalf(const std::string& stem) {
    const bool half = stem.ends_with(" L") || stem.ends_with(" R");
    return half ? stem.substr(0, stem.size() - 2) : std::string();
}

void group(std::vector<Mic>& mics) {
    for (Mic& mic : mics)
        for (const Mic& other : mics) {
            if (&mic == &other)
                continue;
            const std::string whole = wholeOfHalf(mic.stem);
            const RoleGuess a = guessRole(mic.stem), b = guessRole(other.stem);
            if (!whole.empty() && whole == wholeOfHalf(other.stem)) {
                mic.group = whole;
                mic.linked = true;
            } else if (isCloseMic(a.role) && a.role == b.role && a.number == b.number && mic.group.empty()) {
                mic.group = drumName(a);
            }
        }
}

/// What keeps an item from being taken as it is, next to the first of its take.
std::optional<Error> unfit(const ImportItem& item, const ImportItem& first) {
    const std::string named = quotedName(item.source.file);
    const std::string firstNamed = quotedName(first.source.file);
    const auto seconds = [](const AudioInfo& info) {
        return fmt::format("{} s", trimmedNumber(toSeconds(info.length, info.rate).value));
    };
    if (item.error)
        return item.error;
    if (item.info.lacksLength)
        return Error{ErrorKind::unreadable,
                     fmt::format("{} holds no length in its header, as after a power cut, though {} of sound are "
                                 "there: bring it in with mending to take them",
                                 named, seconds(item.info))};
    if (item.info.channels != 1)
        return Error{ErrorKind::notMono,
                     fmt::format("{} has {} channels: bring it in with mending, or split it into mono files", named,
                                 item.info.channels)};
    if (item.info.rate != first.info.rate)
        return Error{
            ErrorKind::rateDiffers,
            fmt::format("{} has {} Hz but {} has {} Hz: bring it in with mending, or bring all files to one rate",
                        named, item.info.rate.hz, firstNamed, first.info.rate.hz)};
    if (item.use == ImportItem::Use::mic && item.take == first.take && item.info.length != first.info.length)
        return Error{ErrorKind::lengthDiffers,
                     fmt::format("{} lasts {} but {} lasts {}: bring it in with mending, or export all files of a "
                                 "take from the same start to the same end",
                                 named, seconds(item.info), firstNamed, seconds(first.info))};
    return std::nullopt;
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
        Mic mic;
        mic.stem = stem;
        mic.role = guess.role;
        mic.guide = isCloseMic(guess.role) && guided.insert({guess.role, guess.number}).second;
        mics.push_back(mic);
    }
    group(mics);
    for (Mic& mic : mics)
        mic.threshold = defaultThreshold(mics, mic.role);
    return mics;
}

Expected<Session> importFolder(const std::filesystem::path& folder) {
    const auto plan = planImport({folder});
    if (!plan)
        return tl::unexpected(plan.error());
    const auto firstMic = std::find_if(plan->items.begin(), plan->items.end(),
                                       [](const ImportItem& item) { return item.use == ImportItem::Use::mic; });
    for (const ImportItem& item : plan->items)
        if (auto error = unfit(item, firstMic == plan->items.end() ? item : *firstMic))
            return tl::unexpected(*error);
    return sessionOf(*plan);
}

} // namespace lampo
