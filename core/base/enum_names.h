#pragma once

#include <algorithm>
#include <array>
#include <concepts>
#include <cstddef>
#include <optional>
#include <string_view>

namespace lampo {

/// What the values of an enumeration that counts from 0 are called in projects, in reports and on the command line:
/// one word for each, in their order. That there are as many as values is checked when it is compiled.
template <class Enum, Enum last>
struct EnumNames {
    static constexpr std::size_t count = static_cast<std::size_t>(last) + 1; ///< of the values

    std::array<std::string_view, count> words; ///< by value

    /// All of them.
    template <std::convertible_to<std::string_view>... Words>
    requires(sizeof...(Words) == count) constexpr EnumNames(Words... inOrder) : words{inOrder...} {}

    /// The word for a value.
    constexpr std::string_view of(Enum value) const { return words[static_cast<std::size_t>(value)]; }
    /// The value that a word stands for; none for another word.
    constexpr std::optional<Enum> named(std::string_view word) const {
        const auto found = std::find(words.begin(), words.end(), word);
        return found == words.end() ? std::nullopt : std::optional(static_cast<Enum>(found - words.begin()));
    }
};

} // namespace lampo
