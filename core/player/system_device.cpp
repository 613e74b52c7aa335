#include "player/system_device.h"

#include "base/descriptor.h"
#include "player/simulated_device.h"

#include <RtAudio.h>
#include <fmt/core.h>

#include <algorithm>
#include <atomic>
#include <cstdlib>
#include <fcntl.h>
#include <mutex>
#include <string_view>
#include <unistd.h>
#include <utility>

namespace lampo {
namespace {

/// What the sound library complained of. It passes no context to whom it tells errors, so this is the one place of
/// the whole process; only one output is open at a time.
class Complaint {
public:
    static Complaint& last() {
        static Complaint complaint;
        return complaint;
    }
    void clear() { set({}); }
    void set(std::string text) {
        const std::scoped_lock lock(guard_);
        any_ = !text.empty();
        text_ = std::move(text);
    }
    /// Takes no lock.
    bool any() const { return any_.load(); }
    std::string text() const {
        const std::scoped_lock lock(guard_);
        return text_;
    }

private:
    mutable std::mutex guard_;
    std::atomic<bool> any_{false};
    std::string text_;
};

/// An underrun is a gap and comes with the next call's status as well; all else means that the output is gone.
void noteError(RtAudioError::Type type, const std::string& text) {
    if (type != RtAudioError::DEBUG_WARNING && text.find("underrun") == std::string::npos)
        Complaint::last().set(text);
}

/// The sound libraries write pages of complaints to stderr when there is no device. While one of these lives they
/// go nowhere. Only for the moment of looking: stderr belongs to the whole process.
class HushedStderr {
public:
    HushedStderr() : kept_(::dup(STDERR_FILENO)) {
        if (const Descriptor nowhere(::open("/dev/null", O_WRONLY | O_CLOEXEC)); nowhere)
            ::dup2(nowhere.number(), STDERR_FILENO);
    }
    ~HushedStderr() {
        if (kept_)
            ::dup2(kept_.number(), STDERR_FILENO);
    }
    HushedStderr(const HushedStderr&) = delete;
    HushedStderr& operator=(const HushedStderr&) = delete;

private:
    Descriptor kept_;
};

class SystemDevice final : public AudioDevice {
public:
    ~SystemDevice() override { SystemDevice::stop(); }

    std::string name() const override {
        const std::scoped_lock lock(guard_);
        return name_;
    }

    /// Also notFound, where the system has no output.
    Expected<void> start(SampleRate rate, AudioCallback callback) override {
        stop();
        Complaint::last().clear();
        const HushedStderr hushed;
        try {
            // Anew each time: sound servers come and go.
            library_ = std::make_unique<RtAudio>();
            library_->showWarnings(false);
            if (library_->getDeviceCount() == 0)
                return fail(ErrorKind::notFound, "No audio device was found");
            open(rate, std::move(callback));
        } catch (const RtAudioError& error) {
            Complaint::last().set(error.getMessage());
        }
        if (library_ && library_->isStreamRunning()) {
            Complaint::last().clear(); // warnings on the way do not matter
            return {};
        }
        const std::string why = failure();
        stop();
        return fail(ErrorKind::unreadable, fmt::format("The audio device \"{}\" could not be started at {} Hz: {}",
                                                       name(), rate.hz, why.empty() ? "it gave no reason" : why));
    }

    void stop() override {
        try {
            if (library_ && library_->isStreamOpen())
                library_->closeStream();
        } catch (const RtAudioError&) {
            // The device is gone already, which is what was wanted.
        }
        library_.reset();
    }

    std::string failure() const override { return Complaint::last().text(); }
    std::int64_t underruns() const override { return underruns_.load(); }

private:
    void open(SampleRate rate, AudioCallback callback) {
        callback_ = std::move(callback);
        RtAudio::StreamParameters output;
        output.deviceId = library_->getDefaultOutputDevice();
        output.nChannels = 2;
        RtAudio::StreamOptions options;
        options.streamName = "Lampo";
        unsigned frames = 512;
        {
            const std::scoped_lock lock(guard_);
            name_ = library_->getDeviceInfo(output.deviceId).name;
        }
        library_->openStream(&output, nullptr, RTAUDIO_FLOAT32, static_cast<unsigned>(rate.hz), &frames,
                             &SystemDevice::fill, this, &options, &noteError);
        if (library_->isStreamOpen())
            library_->startStream();
    }

    // NOLINTNEXTLINE(readability-function-size): as RtAudio calls it
    static int fill(void* out, void*, unsigned frames, double, RtAudioStreamStatus status, void* self) {
        auto& device = *static_cast<SystemDevice*>(self);
        const std::span sound(static_cast<float*>(out), 2 * std::size_t{frames});
        if (Complaint::last().any()) { // a lost output may ask as fast as it can: the song is not to run away
            std::fill(sound.begin(), sound.end(), 0.0F);
            return 0;
        }
        if ((status & RTAUDIO_OUTPUT_UNDERFLOW) != 0)
            device.underruns_.fetch_add(1);
        device.callback_(sound);
        return 0;
    }

    std::unique_ptr<RtAudio> library_;
    AudioCallback callback_;
    std::atomic<std::int64_t> underruns_{0};
    mutable std::mutex guard_;
    std::string name_ = "System";
};

/// The system's output; until there ever was one, the simulated device in its place.
class DefaultDevice : public AudioDevice {
public:
    std::string name() const override { return standsIn_ ? standIn_.name() : system_.name(); }

    Expected<void> start(SampleRate rate, AudioCallback callback) override {
        stop();
        auto started = system_.start(rate, callback);
        if (started)
            existed_ = true;
        if (started || existed_ || started.error().kind != ErrorKind::notFound)
            return started;
        standsIn_ = true;
        return standIn_.start(rate, std::move(callback));
    }

    void stop() override {
        system_.stop();
        standIn_.stop();
        standsIn_ = false;
    }

    std::string failure() const override { return standsIn_ ? std::string() : system_.failure(); }
    std::string notice() const override {
        return standsIn_ ? "No audio device was found: the time runs, and nothing is heard" : "";
    }
    std::int64_t underruns() const override { return system_.underruns(); }

private:
    SystemDevice system_;
    SimulatedDevice standIn_;
    std::atomic<bool> standsIn_{false};
    bool existed_ = false;
};

} // namespace

std::unique_ptr<AudioDevice> defaultDevice() {
    // PulseAudio and PipeWire would buffer two seconds, which the ear is then late by. Read when a stream is made.
    ::setenv("PULSE_LATENCY_MSEC", "40", 0);
    const char* wish = std::getenv("LAMPO_AUDIO");
    if (wish && std::string_view(wish) == "simulated")
        return std::make_unique<SimulatedDevice>();
    return std::make_unique<DefaultDevice>();
}

} // namespace lampo
