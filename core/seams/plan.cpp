#include "seams/plan.h"

namespace lampo {

std::string_view name(SeamKind kind) {
    switch (kind) {
    case SeamKind::crossfade:
        return "crossfade";
    case SeamKind::borrowed:
        return "borrowed";
    case SeamKind::repeated:
        return "repeated";
    case SeamKind::border:
        return "border";
    case SeamKind::opened:
        return "opened";
    case SeamKind::closed:
        return "closed";
    }
    return "";
}

Plan asPlayedPlan(TakeIndex take, SourceToSong shift, FrameCount length) {
    return {length, {{take, asResult(shift), {ResultFrame{0}, ResultFrame{length.frames}}, {}, {}}}, {}};
}

} // namespace lampo
