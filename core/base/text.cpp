#include "base/text.h"

#include <algorithm>
#include <cctype>
#include <charconv>
#include <fmt/core.h>

namespace lampo {

std::string lowered(std::string_view text) {
    std::string result(text);
    std::transform(result.begin(), result.end(), result.begin(),
                   [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
    return result;
}

std::vector<std::string> split(std::string_view text, char separator) {
    std::vector<std::string> pieces;
    while (true) {
        const auto end = text.find(separator);
        pieces.emplace_back(text.substr(0, end));
        if (end == std::string_view::npos)
            return pieces;
        text.remove_prefix(end + 1);
    }
}

namespace {

/// Bytes of the UTF-8 sequence that `text` begins with; 0: none (RFC 3629).
std::size_t sequenceLength(std::string_view text) {
    const auto byte = [&](std::size_t at) { return static_cast<unsigned char>(text[at]); };
    const unsigned char first = byte(0);
    const std::size_t length = first < 0x80                    ? 1
                               : first >= 0xC2 && first < 0xE0 ? 2
                               : first >= 0xE0 && first < 0xF0 ? 3
                               : first >= 0xF0 && first < 0xF5 ? 4
                                                               : 0;
    if (length == 0 || length > text.size())
        return 0;
    for (std::size_t at = 1; at < length; ++at)
        if ((byte(at) & 0xC0) != 0x80)
            return 0;
    const bool overlong = (first == 0xE0 && byte(1) < 0xA0) || (first == 0xF0 && byte(1) < 0x90);
    const bool outside = (first == 0xED && byte(1) > 0x9F) || (first == 0xF4 && byte(1) > 0x8F);
    return overlong || outside ? 0 : length;
}

} // namespace

std::string visible(std::string_view text) {
    std::string shown;
    while (!text.empty()) {
        const auto byte = static_cast<unsigned char>(text.front());
        const std::size_t length = sequenceLength(text);
        const bool control = byte < 0x20 || byte == 0x7F ||
                             (length == 2 && byte == 0xC2 && // C1
                              static_cast<unsigned char>(text[1]) < 0xA0);
        if (length > 0 && !control) {
            shown += text.substr(0, length);
            text.remove_prefix(length);
            continue;
        }
        shown += fmt::format("\\x{:02x}", byte);
        text.remove_prefix(1);
    }
    return shown;
}

std::string asUtf8(std::string_view bytes) {
    std::string text;
    while (!bytes.empty()) {
        std::size_t good = 0;
        for (std::size_t length = 1; good < bytes.size() && length > 0; good += length)
            length = sequenceLength(bytes.substr(good));
        text += bytes.substr(0, good);
        bytes.remove_prefix(good);
        if (bytes.empty())
            break;
        text += '\0';
        text += fmt::format("{:02x}", static_cast<unsigned char>(bytes.front()));
        bytes.remove_prefix(1);
    }
    return text;
}

std::optional<std::string> bytesOfUtf8(std::string_view text) {
    std::string bytes;
    for (std::size_t at = text.find('\0'); at != std::string_view::npos; at = text.find('\0')) {
        unsigned char byte = 0;
        const char* digits = text.data() + at + 1;
        if (text.size() < at + 3 || std::from_chars(digits, digits + 2, byte, 16).ptr != digits + 2 || byte < 0x80)
            return std::nullopt;
        bytes += text.substr(0, at);
        bytes += static_cast<char>(byte);
        text.remove_prefix(at + 3);
    }
    return bytes += text;
}

namespace {

bool cannotBeInAName(char byte) {
    return byte == '/' || static_cast<unsigned char>(byte) < 0x20 || byte == 0x7F;
}

} // namespace

bool isFileName(std::string_view name) {
    return !name.empty() && name.size() <= longestFileName && name != "." && name != ".." &&
           std::none_of(name.begin(), name.end(), cannotBeInAName);
}

std::string asFileName(std::string_view text) {
    const auto inside = [](char byte) { return (static_cast<unsigned char>(byte) & 0xC0) == 0x80; };
    std::size_t length = std::min(text.size(), longestFileName);
    while (length > 0 && length < text.size() && inside(text[length]))
        --length; // not in the middle of a character
    std::string name(text.substr(0, length));
    std::replace_if(name.begin(), name.end(), cannotBeInAName, '-');
    return isFileName(name) ? name : "song";
}

std::string hexadecimal(std::uint64_t number) {
    return fmt::format("{:016x}", number);
}

std::optional<std::uint64_t> numberOfHexadecimal(std::string_view text) {
    std::uint64_t number = 0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), number, 16);
    return text.size() == 16 && error == std::errc{} && end == text.data() + text.size() ? std::optional(number)
                                                                                         : std::nullopt;
}

std::string counted(std::int64_t count, std::string_view one, std::string_view several) {
    if (count == 1)
        return fmt::format("1 {}", one);
    return several.empty() ? fmt::format("{} {}s", count, one) : fmt::format("{} {}", count, several);
}

std::string withArticle(std::string_view noun) {
    const bool vowel = !noun.empty() && std::string_view("aeiouAEIOU").find(noun.front()) != std::string_view::npos;
    return std::string(vowel ? "an " : "a ").append(noun);
}

std::string trimmedNumber(double value, int decimals) {
    std::string text = fmt::format("{:.{}f}", value, decimals);
    if (text.find('.') != std::string::npos) {
        text.erase(text.find_last_not_of('0') + 1);
        if (text.back() == '.')
            text.pop_back();
    }
    return text == "-0" ? "0" : text;
}

std::string withMinus(double value, int decimals) {
    const std::string text = trimmedNumber(std::abs(value), decimals);
    return value < 0 && text != "0" ? "−" + text : text;
}

} // namespace lampo
