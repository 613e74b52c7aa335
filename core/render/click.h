#pragma once

#include "map/grid.h"

#include <span>

namespace lampo {

/// What the click plays.
struct ClickSettings {
    bool accent = true;                     ///< the first of a bar is higher
    std::optional<NoteValue> subdivision{}; ///< softer, between the beats; none: beats alone
    bool operator==(const ClickSettings&) const = default;
};

/// Adds the click to mono sound that begins at `at`: 30 ms pings on the beats of the map. Pure but for `sound`.
void addClick(const MusicalMap& map, const ClickSettings& settings, ResultFrame at, std::span<float> sound);

} // namespace lampo
