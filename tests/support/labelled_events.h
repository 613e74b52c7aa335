#pragma once

#include "strokes/stroke_rules.h"
#include "support/ears.h"

#include <optional>
#include <vector>

namespace lampo::test {

/// A random kit, and of every event of its close mics what it is in truth.
struct LabelledKit {
    AnalysedKit heard;
    std::vector<Witness> witnesses;
    StrokesSoFar known; ///< by the rules
    /// True: the event of its drum's stroke within 12 ms, and of several the one that the rules chose, or else the
    /// nearest. None: another one so near.
    std::vector<std::optional<bool>> isStroke;

    /// It can be revised, and what it is in truth is known.
    bool isLabelled(std::size_t event) const;
};
LabelledKit labelledKit(const RandomKit& kit);

} // namespace lampo::test
