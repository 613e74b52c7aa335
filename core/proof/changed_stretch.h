#pragma once

#include "base/position.h"
#include "base/units.h"
#include "session/proof_answer.h"

#include <optional>
#include <span>
#include <vector>

namespace lampo {

/// One mic over a stretch in which it is not what was expected, with as much on both sides as `around` says.
struct ChangedStretch {
    std::span<const float> expected;    ///< what the edit sounds like
    std::span<const float> heard;       ///< and what the print does: as long, lined up, at its level
    std::size_t begin = 0;              ///< of what changed, in them
    std::size_t end = 0;                ///< and its end
    SampleRate rate;                    ///< of both
    bool hearsCymbals = false;          ///< the mic's sound is what rings
    std::vector<std::size_t> attacks{}; ///< where attacks of the mic's own drum are expected, in the spans
};
/// What a stretch is looked at with on both sides: as far back as a repeated tail comes from.
inline constexpr Milliseconds aroundChange{350};
/// Of longer stretches the begin tells what they are.
inline constexpr Milliseconds longestChange{1500};

/// What became of the sound there.
struct Change {
    ProofKind kind = ProofKind::click; ///< what it is called
    double size = 0;                   ///< in the unit of the kind's scale
    std::optional<FrameCount> moved{}; ///< the same sound lies so much later: who else moved decides what it is
};
/// Tells what it is: silence, a lost attack, a click, another level, a move, a repetition, by what the heard sound
/// is most like. Pure.
Change changeIn(const ChangedStretch& stretch);

} // namespace lampo
