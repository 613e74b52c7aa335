#include "session/settings.h"

namespace lampo {

std::string_view name(Anchor anchor) {
    return anchorNames.of(anchor);
}

std::string_view whatBecomes(Fill fill) {
    constexpr EnumNames<Fill, Fill::open> spoken{"borrowed into", "filled by stretched tails", "left open"};
    return spoken.of(fill);
}

std::string_view name(FadeCurve curve) {
    constexpr EnumNames<FadeCurve, FadeCurve::decibels> spoken{"matched", "equal power", "equal gain",
                                                               "straight in decibels"};
    return spoken.of(curve);
}

} // namespace lampo
