#pragma once

#include "base/error.h"
#include "base/units.h"

#include <cstdint>
#include <functional>
#include <span>
#include <string>

namespace lampo {

/// Something that asks for sound: interleaved stereo, as many frames as fit. Called from the device's own thread;
/// it must not block, allocate or throw.
using AudioCallback = std::function<void(std::span<float> interleavedStereo)>;

/// One output. start() and stop() are never called at the same time; after stop() the callback is not called any
/// more. The questions may be asked by any thread.
class AudioDevice {
public:
    virtual ~AudioDevice() = default;

    /// For people.
    virtual std::string name() const = 0;
    /// Stops first if it runs. Errors: unreadable (the device does not open or does not take the rate).
    virtual Expected<void> start(SampleRate rate, AudioCallback callback) = 0;
    /// Waits until the callback has returned for the last time.
    virtual void stop() = 0;
    /// What went wrong since start(), so that nothing is heard any more; or empty.
    virtual std::string failure() const { return {}; }
    /// What is to be known though it runs, as that it stands in for a device that is not there; or empty.
    virtual std::string notice() const { return {}; }
    /// How often the device had nothing to play since it was made, because it was not served in time.
    virtual std::int64_t underruns() const { return 0; }
};

} // namespace lampo
