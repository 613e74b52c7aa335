#pragma once

#include "player/audio_device.h"

#include <mutex>
#include <vector>

namespace lampo::test {

/// A device that asks for sound only when the test says so, and is lost and comes back as the test says.
class HandDevice : public AudioDevice {
public:
    /// `records` keeps all that is pulled.
    explicit HandDevice(bool records = false) : records_(records) {}

    std::string name() const override { return "Hand"; }
    Expected<void> start(SampleRate rate, AudioCallback callback) override {
        const std::scoped_lock lock(guard_);
        ++starts_;
        callback_ = nullptr;
        failure_.clear();
        if (gone_ || rate == refused_)
            return fail(ErrorKind::unreadable, gone_ ? "Hand is gone" : "Hand does not take this rate");
        rate_ = rate;
        callback_ = std::move(callback);
        return {};
    }
    void stop() override {
        const std::scoped_lock lock(guard_);
        callback_ = nullptr;
    }
    std::string failure() const override {
        const std::scoped_lock lock(guard_);
        return failure_;
    }
    std::string notice() const override {
        const std::scoped_lock lock(guard_);
        return notice_;
    }

    /// What is asked for sound now; empty while it is stopped.
    AudioCallback callback() const {
        const std::scoped_lock lock(guard_);
        return callback_;
    }
    /// Asks for `frames` frames: silence while it is stopped.
    std::vector<float> pull(std::size_t frames) {
        std::vector<float> sound(2 * frames);
        if (const auto ask = callback())
            ask(sound);
        if (records_)
            recorded_.insert(recorded_.end(), sound.begin(), sound.end());
        return sound;
    }
    /// All that was pulled, interleaved.
    const std::vector<float>& recorded() const { return recorded_; }
    SampleRate rate() const {
        const std::scoped_lock lock(guard_);
        return rate_;
    }
    int starts() const {
        const std::scoped_lock lock(guard_);
        return starts_;
    }

    void refuse(SampleRate rate) {
        set([&] { refused_ = rate; });
    }
    void breakDown(const std::string& why) {
        set([&] { failure_ = why; });
    }
    void unplug() {
        set([&] { gone_ = true; });
    }
    void plugIn() {
        set([&] { gone_ = false; });
    }
    void setNotice(const std::string& notice) {
        set([&] { notice_ = notice; });
    }

private:
    template <class Change>
    void set(Change&& change) {
        const std::scoped_lock lock(guard_);
        change();
    }

    mutable std::mutex guard_;
    const bool records_;
    std::vector<float> recorded_; ///< the test's own
    AudioCallback callback_;
    SampleRate rate_{0};
    SampleRate refused_{0};
    std::string failure_;
    std::string notice_;
    int starts_ = 0;
    bool gone_ = false;
};

} // namespace lampo::test
