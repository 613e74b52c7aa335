#pragma once

#include "base/error.h"
#include "base/units.h"

#include <functional>
#include <span>
#include <string>

namespace lampo {

/// Something that asks for sound: interleaved stereo, as many frames as fit. Called from the device's own thread;
/// it must not block, allocate or throw.
using AudioCallback = std::function<void(std::span<float> interleavedStereo)>;

/// One output. start() and stop() belong to one thread; after stop() the callback is not called any more.
class AudioDevice {
public:
    virtual ~AudioDevice() = default;

    virtual std::string name() const = 0;
    /// Errors: unreadable (the device does not open or does not take the rate).
    virtual Expected<void> start(SampleRate rate, AudioCallback callback) = 0;
    virtual void stop() = 0;
};

} // namespace lampo
