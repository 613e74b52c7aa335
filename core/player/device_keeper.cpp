#include "player/device_keeper.h"

#include <utility>

namespace lampo {

DeviceKeeper::DeviceKeeper(std::unique_ptr<AudioDevice> device, AudioCallback fill)
    : device_(std::move(device)), fill_([this, fill = std::move(fill)](std::span<float> out) {
          fill(out);
          calls_.fetch_add(1);
      }) {}

DeviceKeeper::~DeviceKeeper() {
    device_->stop();
}

void DeviceKeeper::keep(SampleRate rate, Clock::time_point now) {
    if (running_ == rate)
        return watch(now);
    if (!triedAt_ || tried_ != rate || now - *triedAt_ >= tryAgain)
        start(rate, now);
}

void DeviceKeeper::hurry() {
    triedAt_.reset();
    if (!device_->remark().empty())
        running_.reset();
}

void DeviceKeeper::start(SampleRate rate, Clock::time_point now) {
    device_->stop();
    running_.reset();
    tried_ = rate;
    triedAt_ = now;
    const std::int64_t calls = calls_.load();
    if (const auto started = device_->start(rate, fill_); !started)
        return say(started.error().sentence);
    running_ = rate;
    seenCalls_ = calls;
    seenAt_ = now;
}

/// Started is not heard: only a device that asks for sound is believed to be back.
void DeviceKeeper::watch(Clock::time_point now) {
    std::string failure = device_->failure();
    if (const std::int64_t calls = calls_.load(); calls != seenCalls_ && failure.empty()) {
        seenCalls_ = calls;
        seenAt_ = now;
        say(device_->remark());
        if (!device_->remark().empty() && now - *triedAt_ >= lookAgain)
            start(*running_, now);
        return;
    }
    if (failure.empty() && now - seenAt_ < patience)
        return;
    if (failure.empty())
        failure = "it stopped asking for sound";
    say("The audio device \"" + device_->name() + "\" was lost (" + failure + "): playing goes on when it is back");
    device_->stop();
    running_.reset();
    triedAt_ = now;
}

std::string DeviceKeeper::trouble() const {
    const std::scoped_lock lock(guard_);
    return trouble_;
}

void DeviceKeeper::say(std::string sentence) {
    const std::scoped_lock lock(guard_);
    trouble_ = std::move(sentence);
}

} // namespace lampo
