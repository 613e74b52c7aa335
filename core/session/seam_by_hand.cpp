#include "session/seam_by_hand.h"

#include "base/limits.h"

#include <algorithm>

namespace lampo {

std::vector<SeamByHand> withSeam(std::vector<SeamByHand> seams, const SeamByHand& added) {
    const auto at = std::lower_bound(seams.begin(), seams.end(), added.between,
                                     [](const SeamByHand& seam, const SeamBetween& b) { return seam.between < b; });
    const bool known = at != seams.end() && at->between == added.between;
    if (known && added.empty())
        seams.erase(at);
    else if (known)
        *at = added;
    else if (!added.empty())
        seams.insert(at, added);
    return seams;
}

const SeamByHand* saidAbout(const std::vector<SeamByHand>& seams, const SeamBetween& between,
                            FrameCount tolerance) {
    const SeamBetween from{between.take, between.before - tolerance, SourceFrame{-limits::frames}};
    for (auto seam = std::ranges::lower_bound(seams, from, {}, &SeamByHand::between);
         seam != seams.end() && seam->between.take == between.take &&
         seam->between.before <= between.before + tolerance;
         ++seam)
        if (abs(seam->between.behind - between.behind) <= tolerance)
            return &*seam;
    return nullptr;
}

} // namespace lampo
