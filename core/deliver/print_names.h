#pragma once

#include "base/error.h"

#include <array>
#include <string>
#include <string_view>

namespace lampo {

/// What may stand in braces in the pattern of a print's names.
enum class NamePart { song, mic, take, version, date };
inline constexpr std::array<std::string_view, 5> nameParts{"song", "mic", "take", "version", "date"};

/// What each part stands for in one file's name.
using NameValues = std::array<std::string, nameParts.size()>;

/// The pattern with every part in its place: "{song} {mic}" becomes "Lighthouse Relay kick_in". Slashes and what no
/// file's name can hold become dashes. Errors: badValue (a brace without its other, a word that is no part, nothing
/// left of it).
Expected<std::string> nameFrom(std::string_view pattern, const NameValues& values);

} // namespace lampo
