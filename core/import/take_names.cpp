#include "import/take_names.h"

#include "base/text.h"

#include <algorithm>
#include <cctype>
#include <set>

namespace lampo {
namespace {

/// Share of the table of mics and takes that has to be filled.
constexpr double fewGaps = 0.75;

constexpr std::string_view joints = " _.-";

std::string trimmed(std::string_view text) {
    const auto begin = text.find_first_not_of(joints);
    const auto end = text.find_last_not_of(joints);
    return begin == std::string_view::npos ? std::string() : std::string(text.substr(begin, end - begin + 1));
}

struct Word {
    std::string_view text;
    std::size_t begin; ///< in the stem
    std::size_t end() const { return begin + text.size(); }
};

std::vector<Word> wordsOf(std::string_view stem) {
    std::vector<Word> words;
    for (std::size_t begin = stem.find_first_not_of(joints); begin != std::string_view::npos;) {
        const std::size_t end = std::min(stem.find_first_of(joints, begin), stem.size());
        words.push_back({stem.substr(begin, end - begin), begin});
        begin = stem.find_first_not_of(joints, end);
    }
    return words;
}

bool isNumber(std::string_view text) {
    return !text.empty() && text.size() <= 3 &&
           std::all_of(text.begin(), text.end(), [](unsigned char c) { return std::isdigit(c); });
}

bool isLetter(std::string_view text) {
    return text.size() == 1 && std::isalpha(static_cast<unsigned char>(text.front()));
}

TakeName without(const std::string& stem, std::size_t begin, std::size_t end, std::string_view take) {
    const std::string before = trimmed(std::string_view(stem).substr(0, begin));
    const std::string after = trimmed(std::string_view(stem).substr(end));
    return {before + (before.empty() || after.empty() ? "" : " ") + after, std::string(take)};
}

/// "kick 03", "kick B".
TakeName splitBareEnd(const std::string& stem) {
    const auto words = wordsOf(stem);
    if (words.size() < 2)
        return {stem, {}};
    const Word& last = words.back();
    const bool capital = isLetter(last.text) && std::isupper(static_cast<unsigned char>(last.text.front()));
    return isNumber(last.text) || capital ? without(stem, last.begin, last.end(), last.text) : TakeName{stem, {}};
}

bool makesTable(const std::vector<TakeName>& names) {
    std::set<std::string> mics, takes;
    std::set<std::pair<std::string, std::string>> cells;
    for (const TakeName& name : names) {
        if (name.take.empty() || name.mic.empty())
            return false;
        mics.insert(lowered(name.mic));
        takes.insert(name.take);
        cells.emplace(lowered(name.mic), name.take);
    }
    const bool sides = takes == std::set<std::string>{"L", "R"};
    return takes.size() > 1 && mics.size() > 1 && !sides && cells.size() == names.size() &&
           static_cast<double>(cells.size()) >= fewGaps * static_cast<double>(mics.size() * takes.size());
}

} // namespace

TakeName splitTakeName(const std::string& stem) {
    const auto words = wordsOf(stem);
    for (std::size_t i = 0; i < words.size(); ++i) {
        const std::string word = lowered(words[i].text);
        for (const std::string_view spoken : {"take", "tk"}) {
            if (!word.starts_with(spoken))
                continue;
            const auto rest = words[i].text.substr(spoken.size());
            if (isNumber(rest) || isLetter(rest))
                return without(stem, words[i].begin, words[i].end(), rest);
            if (rest.empty() && i + 1 < words.size() &&
                (isNumber(words[i + 1].text) || isLetter(words[i + 1].text)))
                return without(stem, words[i].begin, words[i + 1].end(), words[i + 1].text);
        }
    }
    return {stem, {}};
}

std::optional<std::vector<TakeName>> takesByName(const std::vector<std::string>& stems) {
    for (const auto split : {&splitTakeName, &splitBareEnd}) {
        std::vector<TakeName> names;
        std::transform(stems.begin(), stems.end(), std::back_inserter(names), split);
        if (makesTable(names))
            return names;
    }
    return std::nullopt;
}

} // namespace lampo
