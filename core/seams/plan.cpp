#include "seams/plan.h"

namespace lampo {

std::string_view name(SeamKind kind) {
    constexpr EnumNames<SeamKind, SeamKind::closed> names{"crossfade", "borrowed", "repeated", "stretched",
                                                          "border",    "opened",   "closed"};
    return names.of(kind);
}

Plan asPlayedPlan(TakeIndex take, SourceToSong shift, FrameCount length) {
    return {length, {{take, asResult(shift), {ResultFrame{0}, ResultFrame{length.frames}}, {}, {}}}, {}};
}

} // namespace lampo
