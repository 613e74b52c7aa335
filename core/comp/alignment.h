#pragma once

#include "hits/hit.h"

#include <optional>
#include <span>

namespace lampo {

/// Where one take lies against another.
struct Alignment {
    FrameCount later;  ///< the other take's strokes lie this much later in its files
    double agreed = 0; ///< share of the strokes that can agree which do, 0 to 1
};

/// Compares the pattern of two takes' strokes, drum by drum: the shift at which most of them fall together, each
/// within the tens of milliseconds that two performances differ by. Any distance is found. None when fewer than
/// eight strokes or under a third of them agree. Looks at no more than the 1,500 loudest strokes of each. Pure.
std::optional<Alignment> alignmentOf(std::span<const Hit> reference, std::span<const Hit> other, SampleRate rate);

} // namespace lampo
