#include "session/correction.h"

#include "base/enum_names.h"

namespace lampo {
namespace {

constexpr EnumNames<Correction::Kind, Correction::Kind::line> kindNames{
    "add", "cut", "remove", "mark", "split", "join", "anchor", "drum", "pin", "place", "line"};

} // namespace

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
    return kindNames.of(kind);
}

std::optional<Correction::Kind> correctionNamed(std::string_view text) {
    return kindNames.named(text);
}

} // namespace lampo
