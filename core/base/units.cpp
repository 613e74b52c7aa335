#include "base/units.h"

#include <algorithm>
#include <cmath>

namespace lampo {

FrameCount toFrames(Seconds time, SampleRate rate) {
    return FrameCount{std::llround(time.value * rate.hz)};
}

FrameCount toFrames(Milliseconds time, SampleRate rate) {
    return FrameCount{std::llround(time.value * rate.hz / 1000.0)};
}

Seconds toSeconds(FrameCount count, SampleRate rate) {
    return {static_cast<double>(count.frames) / rate.hz};
}

Milliseconds toMilliseconds(FrameCount count, SampleRate rate) {
    return {static_cast<double>(count.frames) * 1000.0 / rate.hz};
}

double toGain(Decibels level) {
    return std::pow(10.0, level.value / 20.0);
}

Decibels toDecibels(double amplitude) {
    return {20.0 * std::log10(std::max(amplitude, 1e-10))};
}

} // namespace lampo
