#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace lampo {

std::string lowered(std::string_view text);
/// Pieces between `separator`s; empty pieces are kept.
std::vector<std::string> split(std::string_view text, char separator);
/// Text from outside as it may be shown: control characters and what is no UTF-8 as \xNN.
std::string visible(std::string_view text);
/// UTF-8 that stands for any bytes, and the bytes again: what is no UTF-8 (a file name from an old system) becomes
/// U+0000, which no name holds, and two hexadecimal digits. Text that is UTF-8 stays as it is.
std::string asUtf8(std::string_view bytes);
/// Nothing for text that asUtf8() does not make.
std::optional<std::string> bytesOfUtf8(std::string_view text);
/// A name that can be a file's in any folder: no path, nothing that a terminal would obey, at most
/// longestFileName bytes.
bool isFileName(std::string_view name);
inline constexpr std::size_t longestFileName = 200;
/// The same made of any text: slashes and control characters give way to dashes, what is too long is cut.
std::string asFileName(std::string_view text);
/// Sixteen hexadecimal digits, and the number again; nothing for other text.
std::string hexadecimal(std::uint64_t number);
std::optional<std::uint64_t> numberOfHexadecimal(std::string_view text);
/// "1 hit", "3 hits". `several`: the plural, where it is not the singular and an s.
std::string counted(std::int64_t count, std::string_view one, std::string_view several = {});
/// "a feel", "an edit", by the first letter: for nouns whose first sound is what it is written with.
std::string withArticle(std::string_view noun);
/// "−1.5", with a real minus sign; never "−0". A point in every locale, as in trimmedNumber().
std::string withMinus(double value, int decimals = 1);
/// At most `decimals` digits after the point, no trailing zeros: 80, 12.5. The same in every locale.
std::string trimmedNumber(double value, int decimals = 3);

} // namespace lampo
