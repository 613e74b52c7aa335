#pragma once

#include "base/position.h"
#include "session/settings.h"

#include <optional>

namespace lampo {

/// The attacks of one slice in the source, where the slice goes, and what is said there about its seam.
struct Slice {
    SourceFrame first;                  ///< of its attacks
    SourceFrame last;                   ///< of them
    SourceToResult shift;               ///< that it is moved by
    FrameCount slipped;                 ///< part of the shift that leaves the slice's begin where it was
    FrameCount leadIn;                  ///< before the first attack
    Fill fill = Fill::borrow;           ///< what becomes of a hole before it
    std::optional<SourceFrame> found{}; ///< of a hit, or a stroke that rides along: its seams are spoken of by it

    /// Where it should begin.
    SourceFrame begin() const { return first - leadIn; }
};

} // namespace lampo
