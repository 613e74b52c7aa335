#pragma once

#include <optional>
#include <string>
#include <string_view>

namespace lampo {

/// A length as a fraction of a whole note, in lowest terms: a sixteenth is 1/16, an eighth-note triplet 1/12.
struct NoteValue {
    int numerator = 1;    ///< parts
    int denominator = 16; ///< of a whole note

    bool operator==(const NoteValue&) const = default;
    /// Its length, in whole notes.
    double ofWhole() const { return static_cast<double>(numerator) / denominator; }
};

/// Reads "1/16", "1/8t", "1/16q" or "1/8d": denominators 1, 2, 4, 8, 16, 32 or 64; t makes it two thirds as long
/// (three in the time of two), q four fifths (five in the time of four), d one and a half times (dotted).
std::optional<NoteValue> noteValueNamed(std::string_view text);
/// "1/16", "1/8t".
std::string name(NoteValue value);

} // namespace lampo
