#include "session/correction.h"

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
    return correctionNames.of(kind);
}

} // namespace lampo
