#pragma once

#include "player/audio_device.h"

#include <atomic>
#include <chrono>
#include <memory>
#include <mutex>
#include <optional>

namespace lampo {

/// Keeps a device running: starts it, notices when it is lost, says so, and tries until it is back. Belongs to the
/// feeder's thread, since opening a device may take long; what it says may be asked by any thread.
class DeviceWatchdog {
public:
    using Clock = std::chrono::steady_clock; ///< that never goes back
    /// A device that has not asked for sound for so long is lost: sound servers ask in bursts.
    static constexpr Clock::duration patience = std::chrono::seconds(3);
    /// One that is lost is tried again so often.
    static constexpr Clock::duration tryAgain = std::chrono::seconds(1);
    /// While another stands in for the device that is wanted, it is looked for so often.
    static constexpr Clock::duration lookAgain = std::chrono::seconds(5);

    /// `fill` is called by the device's thread.
    DeviceWatchdog(std::unique_ptr<AudioDevice> device, AudioCallback fill);
    ~DeviceWatchdog();

    /// To be called every few milliseconds while something is to be heard.
    void poll(SampleRate rate, Clock::time_point now);
    /// The next poll() tries at once: the user asked for sound.
    void retryNow();

    /// Of the device, for people.
    std::string name() const { return device_->name(); }
    /// A sentence while nothing can be heard, or not by the device that was wanted; empty when all is well.
    std::string trouble() const;
    /// Blocks that the device itself missed.
    std::int64_t underruns() const { return device_->underruns(); }

private:
    void start(SampleRate rate, Clock::time_point now);
    void watch(Clock::time_point now);
    void setTrouble(std::string sentence);

    std::unique_ptr<AudioDevice> device_;
    AudioCallback fill_;
    std::optional<SampleRate> running_;
    std::optional<SampleRate> tried_;
    std::optional<Clock::time_point> triedAt_;
    std::atomic<std::int64_t> calls_{0}; ///< of the callback
    std::int64_t seenCalls_ = 0;
    Clock::time_point seenAt_;
    mutable std::mutex guard_;
    std::string trouble_;
};

} // namespace lampo
