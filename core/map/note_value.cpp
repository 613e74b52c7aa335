#include "map/note_value.h"

#include <bit>
#include <charconv>
#include <fmt/core.h>
#include <numeric>

namespace lampo {

std::optional<NoteValue> noteValueNamed(std::string_view text) {
    const char kind = text.empty() ? ' ' : text.back();
    const bool plain = '0' <= kind && kind <= '9';
    if (!plain)
        text.remove_suffix(text.empty() ? 0 : 1);
    if (!text.starts_with("1/"))
        return std::nullopt;
    text.remove_prefix(2);
    int denominator = 0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), denominator);
    if (error != std::errc{} || end != text.data() + text.size() || denominator < 1 || denominator > 64 ||
        !std::has_single_bit(static_cast<unsigned>(denominator)))
        return std::nullopt;
    const auto reduced = [](int a, int b) { return NoteValue{a / std::gcd(a, b), b / std::gcd(a, b)}; };
    switch (kind) {
    case 't':
        return reduced(2, 3 * denominator);
    case 'q':
        return reduced(4, 5 * denominator);
    case 'd':
        return reduced(3, 2 * denominator);
    default:
        return plain ? std::optional(NoteValue{1, denominator}) : std::nullopt;
    }
}

std::string name(NoteValue value) {
    const auto named = [&](int times, int over, const char* kind) {
        return fmt::format("1/{}{}", value.denominator * times / (value.numerator * over), kind);
    };
    if (value.denominator % 3 == 0)
        return named(2, 3, "t");
    if (value.denominator % 5 == 0)
        return named(4, 5, "q");
    return value.numerator % 3 == 0 ? named(3, 2, "d") : named(1, 1, "");
}

} // namespace lampo
