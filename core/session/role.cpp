#include "session/role.h"

#include "base/text.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <vector>

namespace lampo {
namespace {

struct WordRole {
    std::string_view word;
    Role role;
};
// Names in common use on recorders and in studios; common practice, no source. The first word that matches decides,
// so "kick room" is a room only because rooms and overheads are looked for first.
constexpr std::array words{WordRole{"overhead", Role::overhead},
                           WordRole{"overheads", Role::overhead},
                           WordRole{"oh", Role::overhead},
                           WordRole{"ohl", Role::overhead},
                           WordRole{"ohr", Role::overhead},
                           WordRole{"over", Role::overhead},
                           WordRole{"overs", Role::overhead},
                           WordRole{"room", Role::room},
                           WordRole{"rm", Role::room},
                           WordRole{"rooms", Role::room},
                           WordRole{"amb", Role::room},
                           WordRole{"ambience", Role::room},
                           WordRole{"ambient", Role::room},
                           WordRole{"far", Role::room},
                           WordRole{"mono", Role::room},
                           WordRole{"hat", Role::hat},
                           WordRole{"hats", Role::hat},
                           WordRole{"hh", Role::hat},
                           WordRole{"hihat", Role::hat},
                           WordRole{"ride", Role::cymbal},
                           WordRole{"crash", Role::cymbal},
                           WordRole{"china", Role::cymbal},
                           WordRole{"splash", Role::cymbal},
                           WordRole{"cym", Role::cymbal},
                           WordRole{"cymbal", Role::cymbal},
                           WordRole{"cymbals", Role::cymbal},
                           WordRole{"kick", Role::kick},
                           WordRole{"kik", Role::kick},
                           WordRole{"bd", Role::kick},
                           WordRole{"bassdrum", Role::kick},
                           WordRole{"kd", Role::kick},
                           WordRole{"grossecaisse", Role::kick},
                           WordRole{"snare", Role::snare},
                           WordRole{"sn", Role::snare},
                           WordRole{"snr", Role::snare},
                           WordRole{"snaredrum", Role::snare},
                           WordRole{"caisseclaire", Role::snare},
                           WordRole{"sd", Role::snare},
                           WordRole{"tom", Role::tom},
                           WordRole{"toms", Role::tom},
                           WordRole{"rack", Role::tom},
                           WordRole{"floor", Role::tom},
                           WordRole{"racktom", Role::tom},
                           WordRole{"floortom", Role::tom},
                           WordRole{"ft", Role::tom},
                           WordRole{"rt", Role::tom}};

// Common practice, no source.
constexpr std::array besideWords{"bass",  "gtr",   "guitar", "guitars", "gt",   "keys", "piano", "organ",
                                 "synth", "vox",   "vocal",  "vocals",  "voc",  "loop", "click", "guide",
                                 "perc",  "brass", "horns",  "strings", "lead", "di",   "sample"};

// Runs of letters and runs of digits: "SnTop_02" is sn, top, 02.
std::vector<std::string> wordsOf(std::string_view stem) {
    std::vector<std::string> found;
    const auto kind = [](char c) {
        const auto u = static_cast<unsigned char>(c);
        return std::isdigit(u) ? 3 : std::isupper(u) ? 2 : std::isalpha(u) ? 1 : 0;
    };
    int last = 0;
    for (const char c : stem) {
        const int now = kind(c);
        const bool capitalised = last == 2 && now == 1;
        if (now != 0 && (now == last || capitalised))
            found.back() += c;
        else if (now != 0)
            found.emplace_back(1, c);
        last = now;
    }
    for (auto& word : found)
        word = lowered(word);
    return found;
}

bool has(const std::vector<std::string>& spoken, std::initializer_list<std::string_view> any) {
    return std::any_of(any.begin(), any.end(),
                       [&](auto word) { return std::find(spoken.begin(), spoken.end(), word) != spoken.end(); });
}

// Also joins neighbours, so that "bass drum" and "hi-hat" are found.
bool says(const std::vector<std::string>& spoken, std::string_view word) {
    for (std::size_t i = 0; i < spoken.size(); ++i)
        if (spoken[i] == word || (i + 1 < spoken.size() && spoken[i] + spoken[i + 1] == word))
            return true;
    return false;
}

int placeIn(Role role, const std::vector<std::string>& spoken) {
    if (isCloseMic(role) && has(spoken, {"trig", "trigger", "trg"}))
        return -1; // on the drum itself: it hears no bleed
    if (role == Role::kick)
        return has(spoken, {"sub"}) ? 2 : has(spoken, {"out", "outside", "o"}) ? 1 : 0;
    if (role == Role::snare)
        return has(spoken, {"side"})                                                     ? 2
               : has(spoken, {"bottom", "bot", "btm", "bt", "under", "down", "dn", "b"}) ? 1
                                                                                         : 0;
    return 0;
}

int tomNumber(const std::vector<std::string>& spoken) {
    int number = has(spoken, {"floor", "ft", "floortom"}) ? 50
                 : has(spoken, {"mid"})                   ? 2
                 : has(spoken, {"low", "lo"})             ? 3
                                                          : 1;
    for (const auto& word : spoken)
        if (std::isdigit(static_cast<unsigned char>(word.front())) && word.size() < 3)
            number = (number == 50 ? 50 : 0) + std::stoi(word);
    return number;
}

} // namespace

std::string_view name(Role role) {
    return roleNames.of(role);
}

std::string_view name(Voice voice) {
    return voiceNames.of(voice);
}

Voice voiceOf(Role role) {
    switch (role) {
    case Role::kick:
        return Voice::kick;
    case Role::snare:
        return Voice::snare;
    case Role::tom:
        return Voice::tom;
    case Role::hat:
        return Voice::hat;
    case Role::cymbal:
        return Voice::cymbal;
    default:
        return Voice::other;
    }
}

RoleGuess guessRole(std::string_view stem) {
    const auto spoken = wordsOf(stem);
    const auto found =
        std::find_if(words.begin(), words.end(), [&](const auto& word) { return says(spoken, word.word); });
    if (found == words.end())
        return {};
    return {found->role, placeIn(found->role, spoken), found->role == Role::tom ? tomNumber(spoken) : 0};
}

bool soundsBesideTheKit(std::string_view stem) {
    const auto spoken = wordsOf(stem);
    return guessRole(stem).role == Role::other && std::any_of(besideWords.begin(), besideWords.end(),
                                                              [&](const char* word) { return says(spoken, word); });
}

bool isCloseMic(Role role) {
    return role == Role::kick || role == Role::snare || role == Role::tom;
}

bool isMetal(Role role) {
    return role == Role::hat || role == Role::cymbal;
}

} // namespace lampo
