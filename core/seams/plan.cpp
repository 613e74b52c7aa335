#include "seams/plan.h"

#include <algorithm>

namespace lampo {

std::string_view name(SeamKind kind) {
    constexpr EnumNames<SeamKind, SeamKind::closed> names{"crossfade", "borrowed", "repeated", "stretched",
                                                          "border",    "opened",   "closed"};
    return names.of(kind);
}

void dropBeforeTheSong(Plan& plan) {
    constexpr ResultFrame song{0};
    auto& segments = plan.segments;
    segments.erase(segments.begin(), std::find_if(segments.begin(), segments.end(),
                                                  [&](const Segment& one) { return one.sounds.end > song; }));
    std::erase_if(plan.seams, [&](const Seam& seam) { return seam.range.end <= song; });
    if (segments.empty() || segments.front().sounds.begin >= song)
        return;
    Segment& first = segments.front();
    first.fadeIn = std::max(FrameCount{}, first.sounds.begin + first.fadeIn - song);
    first.sounds.begin = song;
    first.likeness.reset(); // nothing sounds before it
}

Plan asPlayedPlan(TakeIndex take, SourceToSong shift, FrameCount length) {
    return {length, {{take, asResult(shift), {ResultFrame{0}, ResultFrame{length.frames}}, {}, {}}}, {}};
}

} // namespace lampo
