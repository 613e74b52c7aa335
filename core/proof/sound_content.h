#pragma once

#include "proof/place.h"
#include "session/session.h"

#include <vector>

namespace lampo {

/// What the sound of a stretch of the result follows from, as a hash that is the same wherever the stretch lies:
/// the files, where in them its slices come from, their fades, the patches on them.
class SoundContent {
public:
    /// Both outlive it.
    SoundContent(const Session& session, const Plan& plan);
    /// Of one stretch, which is not empty.
    std::uint64_t of(Range<ResultFrame> stretch) const;

private:
    std::uint64_t ofSegment(const Segment& segment, Range<ResultFrame> stretch) const;
    std::uint64_t ofPatch(const PlannedPatch& patch, Range<ResultFrame> stretch) const;

    const Plan& plan_;
    std::vector<std::uint64_t> takes_; ///< of the files of each
    FrameCount longestPatch_;
};

} // namespace lampo
