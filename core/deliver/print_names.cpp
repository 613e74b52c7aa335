#include "deliver/print_names.h"

#include "base/text.h"

#include <algorithm>
#include <fmt/core.h>
#include <fmt/ranges.h>

namespace lampo {

Expected<std::string> nameFrom(std::string_view pattern, const NameValues& values) {
    std::string name;
    for (std::size_t at = 0; at < pattern.size();) {
        const char c = pattern[at];
        if (c != '{' && c != '}') {
            name += c;
            ++at;
            continue;
        }
        const auto end = pattern.find('}', at);
        const auto word =
            c == '}' || end == std::string_view::npos ? std::string_view() : pattern.substr(at + 1, end - at - 1);
        const auto* part = std::find(nameParts.begin(), nameParts.end(), word);
        if (part == nameParts.end())
            return fail(ErrorKind::badValue, fmt::format("\"{}\" is no pattern for names: in braces stand {}",
                                                         visible(pattern), fmt::join(nameParts, ", ")));
        name += values[static_cast<std::size_t>(part - nameParts.begin())];
        at = end + 1;
    }
    if (name.find_first_not_of(' ') == std::string::npos)
        return fail(ErrorKind::badValue, "The pattern for names leaves nothing of a name");
    return asFileName(name);
}

} // namespace lampo
