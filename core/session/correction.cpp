#include "session/correction.h"

#include <array>

namespace lampo {

FrameCount correctionTolerance(SampleRate rate) {
    return toFrames(Milliseconds{10}, rate);
}

Aspect aspectOf(Correction::Kind kind) {
    switch (kind) {
    case Correction::Kind::add:
    case Correction::Kind::cut:
    case Correction::Kind::remove:
        return Aspect::existence;
    case Correction::Kind::mark:
        return Aspect::start;
    case Correction::Kind::split:
    case Correction::Kind::join:
        return Aspect::cluster;
    case Correction::Kind::anchor:
        return Aspect::anchor;
    case Correction::Kind::drum:
        return Aspect::drum;
    case Correction::Kind::pin:
    case Correction::Kind::place:
    case Correction::Kind::line:
        return Aspect::landing;
    }
    return Aspect::existence;
}

std::string_view name(Correction::Kind kind) {
    constexpr std::array<std::string_view, correctionKinds> names{
        "add", "cut", "remove", "mark", "split", "join", "anchor", "drum", "pin", "place", "line"};
    return names[static_cast<std::size_t>(kind)];
}

} // namespace lampo
