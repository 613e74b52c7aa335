#include "map/note_value.h"

#include <bit>
#include <charconv>

namespace lampo {

std::optional<NoteValue> noteValueNamed(std::string_view text) {
    const bool triplet = text.ends_with('t');
    if (triplet)
        text.remove_suffix(1);
    if (!text.starts_with("1/"))
        return std::nullopt;
    text.remove_prefix(2);
    int denominator = 0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), denominator);
    if (error != std::errc{} || end != text.data() + text.size() || denominator < 1 || denominator > 64 ||
        !std::has_single_bit(static_cast<unsigned>(denominator)))
        return std::nullopt;
    if (!triplet)
        return NoteValue{1, denominator};
    return denominator == 1 ? NoteValue{2, 3} : NoteValue{1, denominator * 3 / 2};
}

std::string name(NoteValue value) {
    if (value.denominator % 3 != 0)
        return std::to_string(value.numerator) + "/" + std::to_string(value.denominator);
    return "1/" + std::to_string(value.denominator * 2 / (3 * value.numerator)) + "t";
}

} // namespace lampo
