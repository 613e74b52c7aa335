#pragma once

#include "base/range.h"
#include "session/session.h"

#include <span>
#include <vector>

namespace lampo {

/// What is known of one take beside its hits.
struct TakeSound {
    std::uint64_t content = 0;              ///< tells its recordings from all others
    std::span<const SourceFrame> strokes{}; ///< of all drums, also of those that lead nothing; ascending
};

/// What a session says about joining slices, in frames.
struct SeamMeasures {
    /// By its lead-in, its fade and its rate.
    explicit SeamMeasures(const Session& session);
    FrameCount before;   ///< kept whole before each attack
    FrameCount after;    ///< and behind it
    FrameCount leadIn;   ///< at least `before`
    FrameCount shortest; ///< fade
    FrameCount fade;     ///< at least `shortest`

    /// Between two attacks that can be cut apart.
    FrameCount around() const { return after + before + shortest; }
};

/// One of the two slices that meet.
struct SeamSide {
    TakeIndex take;       ///< it comes from
    SourceToResult shift; ///< that it is moved by
};

/// Finds where seams may lie. What it gives is valid until the next call: a plan asks thousands of times.
class FreeStretches {
public:
    /// Among strokes of all takes, which outlive this.
    FreeStretches(std::span<const TakeSound> sounds, const SeamMeasures& measures)
        : sounds_(sounds), measures_(measures) {}

    /// What is left of a stretch without the strokes that a seam would cut or double there, in order; each holds
    /// the shortest fade. A stroke of a take sounds where either slice's shift leads: a seam lies before or behind
    /// both places.
    const std::vector<Range<ResultFrame>>& in(Range<ResultFrame> room, const SeamSide& earlier,
                                              const SeamSide& later);

private:
    void addStrokes(Range<ResultFrame> room, const SeamSide& side, SourceToResult other);

    std::span<const TakeSound> sounds_;
    SeamMeasures measures_;
    std::vector<Range<ResultFrame>> taken_, free_;
};

/// Those parts of the stretches that lie in `looked` and hold a fade of this length, into `found`.
void cutTo(std::span<const Range<ResultFrame>> free, Range<ResultFrame> looked, FrameCount length,
           std::vector<Range<ResultFrame>>& found);

/// The seam of this length that ends as near to `wanted` as the stretch, which holds it, allows.
Range<ResultFrame> ending(ResultFrame wanted, FrameCount length, Range<ResultFrame> stretch);

/// The rule: the seam with the whole fade that ends as late as `wanted` allows; where no stretch before that holds
/// it, as near behind as possible; where none does, in the longest stretch. `free` is not empty.
Range<ResultFrame> ruledPlace(std::span<const Range<ResultFrame>> free, ResultFrame wanted, FrameCount fade);

} // namespace lampo
