#pragma once

#include "map/note_value.h"

#include <optional>
#include <string>

namespace lampo {

/// A named run of whole bars. What it does not set itself follows the song.
struct Section {
    std::string name;
    int firstBar = 1;
    int bars = 1;
    std::optional<NoteValue> grid;
    std::optional<double> strength; ///< per cent, 0 to 100

    bool operator==(const Section&) const = default;
    bool holds(int bar) const { return firstBar <= bar && bar < firstBar + bars; }
};

} // namespace lampo
