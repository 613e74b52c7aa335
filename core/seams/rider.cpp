#include "seams/rider.h"

#include <algorithm>

namespace lampo {

std::optional<Slice> riderBetween(const Slice& a, const Slice& b, std::span<const SourceFrame> strokes,
                                  const SeamMeasures& measures) {
    const FrameCount opened = b.shift - a.shift, around = measures.around();
    std::optional<Slice> rider;
    FrameCount most;
    for (auto stroke = std::lower_bound(strokes.begin(), strokes.end(), a.last + around);
         stroke != strokes.end() && *stroke + around <= b.first; ++stroke) {
        const FrameCount before = *stroke - a.last - around, behind = b.first - *stroke - around;
        if (before + behind < -opened || std::min(before, behind) <= most)
            continue;
        most = std::min(before, behind);
        const SourceToResult shift = a.shift + scaled(opened, ratio(before, before + behind));
        rider = Slice{*stroke, *stroke, shift, a.slipped, b.leadIn, b.fill, *stroke};
    }
    return rider;
}

} // namespace lampo
