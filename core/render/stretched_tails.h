#pragma once

#include "render/kit_reader.h"
#include "render/tail_stretcher.h"
#include "seams/plan.h"

#include <deque>
#include <memory>

namespace lampo {

/// A lengthened tail: mics x frames.
using StretchedMics = std::vector<std::vector<float>>;

/// The lengthened tails that were last asked for: to stretch one takes about a quarter of the time that it sounds.
/// One thread at a time, and no other that reads the kit meanwhile.
class StretchedTails {
public:
    /// Reads through `kit`, which outlives it.
    explicit StretchedTails(KitReader& kit) : kit_(kit) {}
    /// That of a segment which has one. Errors: those of AudioReader.
    Expected<std::shared_ptr<const StretchedMics>> of(const Segment& segment);
    /// One mic of a segment of any kind, also before and behind where it sounds: as if it went on. Errors: those of
    /// AudioReader.
    Expected<std::vector<float>> sound(const Segment& segment, MicIndex mic, ResultFrame at, std::size_t count);

private:
    struct Kept {
        TakeIndex take;
        Range<SourceFrame> tail;
        FrameCount length;
        std::shared_ptr<const StretchedMics> sound;
    };
    Expected<std::shared_ptr<const StretchedMics>> stretched(const Segment& segment);

    KitReader& kit_;
    std::deque<Kept> kept_;   ///< the last asked for first
    std::size_t samples_ = 0; ///< of all of them
};

} // namespace lampo
