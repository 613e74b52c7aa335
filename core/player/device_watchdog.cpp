#include "player/device_watchdog.h"

#include <fmt/core.h>
#include <utility>

namespace lampo {

DeviceWatchdog::DeviceWatchdog(std::unique_ptr<AudioDevice> device, AudioCallback fill)
    : device_(std::move(device)), fill_([this, fill = std::move(fill)](std::span<float> out) {
          fill(out);
          calls_.fetch_add(1);
      }) {}

DeviceWatchdog::~DeviceWatchdog() {
    device_->stop();
}

void DeviceWatchdog::poll(SampleRate rate, Clock::time_point now) {
    if (running_ == rate)
        return watch(now);
    if (!triedAt_ || tried_ != rate || now - *triedAt_ >= tryAgain)
        start(rate, now);
}

void DeviceWatchdog::retryNow() {
    triedAt_.reset();
    if (!device_->notice().empty())
        running_.reset();
}

void DeviceWatchdog::start(SampleRate rate, Clock::time_point now) {
    device_->stop();
    running_.reset();
    tried_ = rate;
    triedAt_ = now;
    const std::int64_t calls = calls_.load();
    if (const auto started = device_->start(rate, fill_); !started)
        return setTrouble(started.error().sentence);
    running_ = rate;
    seenCalls_ = calls;
    seenAt_ = now;
}

/// Started is not heard: only a device that asks for sound is believed to be back.
void DeviceWatchdog::watch(Clock::time_point now) {
    std::string failure = device_->failure();
    if (const std::int64_t calls = calls_.load(); calls != seenCalls_ && failure.empty()) {
        seenCalls_ = calls;
        seenAt_ = now;
        setTrouble(device_->notice());
        if (!device_->notice().empty() && now - *triedAt_ >= lookAgain)
            start(*running_, now);
        return;
    }
    if (failure.empty() && now - seenAt_ < patience)
        return;
    if (failure.empty())
        failure = "it stopped asking for sound";
    setTrouble(fmt::format("The audio device \"{}\" was lost ({}): playing goes on when it is back",
                           device_->name(), failure));
    device_->stop();
    running_.reset();
    triedAt_ = now;
}

std::string DeviceWatchdog::trouble() const {
    const std::scoped_lock lock(guard_);
    return trouble_;
}

void DeviceWatchdog::setTrouble(std::string sentence) {
    const std::scoped_lock lock(guard_);
    trouble_ = std::move(sentence);
}

} // namespace lampo
