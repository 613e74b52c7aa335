#pragma once

#include "base/indices.h"
#include "base/position.h"
#include "base/units.h"
#include "session/settings.h"

#include <optional>
#include <vector>

namespace lampo {

/// The two neighbouring hits of one take between which a seam lies, by where they were found: it stays with them.
struct SeamBetween {
    TakeLetter take;    ///< of both
    SourceFrame before; ///< the hit whose slice ends
    SourceFrame behind; ///< the hit whose slice begins
    auto operator<=>(const SeamBetween&) const = default;
};

/// What the user said about one seam; what was not said is chosen as for any other.
struct SeamByHand {
    SeamBetween between;              ///< which seam
    std::optional<FrameCount> ahead;  ///< how long before the later hit's first attack it ends
    std::optional<Milliseconds> fade; ///< its length, limits::fade
    std::optional<FadeCurve> curve;   ///< how its sides fade
    std::optional<Fill> fill;         ///< what becomes of its hole
    bool operator==(const SeamByHand&) const = default;

    /// Whether nothing is said.
    bool empty() const { return !ahead && !fade && !curve && !fill; }
};

/// The seams with one more, by take and place; what was said about the same seam gives way, and nothing said only
/// takes that away.
std::vector<SeamByHand> withSeam(std::vector<SeamByHand> seams, const SeamByHand& added);

/// What was said about a seam whose hits were found within `tolerance` of where they are now; null: nothing.
const SeamByHand* saidAbout(const std::vector<SeamByHand>& seams, const SeamBetween& between, FrameCount tolerance);

} // namespace lampo
