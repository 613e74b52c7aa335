#include "project/take_names.h"

#include "base/text.h"

#include <algorithm>
#include <regex>
#include <set>

namespace lampo {
namespace {

/// Share of the table of mics and takes that has to be filled.
constexpr double fewGaps = 0.75;

std::string trimmed(std::string text) {
    const auto isJoint = [](char c) { return c == ' ' || c == '_' || c == '-' || c == '.'; };
    while (!text.empty() && isJoint(text.back()))
        text.pop_back();
    text.erase(text.begin(), std::find_if_not(text.begin(), text.end(), isJoint));
    return text;
}

TakeName splitBareEnd(const std::string& stem) {
    static const std::regex bareEnd("^(.+)[ _.-]([0-9]{1,3}|[A-Z])$");
    std::smatch match;
    return std::regex_match(stem, match, bareEnd) ? TakeName{trimmed(match[1]), match[2]} : TakeName{stem, {}};
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
    static const std::regex spoken("(^|[ _.-])(take|tk)[ _.-]?([0-9]{1,3}|[a-z])(?=$|[ _.-])", std::regex::icase);
    std::smatch match;
    if (!std::regex_search(stem, match, spoken))
        return {stem, {}};
    const std::string before = trimmed(match.prefix().str());
    const std::string after = trimmed(match.suffix().str());
    return {before + (before.empty() || after.empty() ? "" : " ") + after, match[3]};
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
