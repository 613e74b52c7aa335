#include "player/system_device.h"

#include "player/simulated_device.h"

#include <RtAudio.h>

#include <cstdlib>
#include <fcntl.h>
#include <string_view>
#include <unistd.h>

namespace lampo {
namespace {

void ignoreMessage(RtAudioError::Type, const std::string&) {}

/// The sound libraries write pages of complaints to stderr when there is no device. While one of these lives they
/// go nowhere. Only for the moment of looking: stderr belongs to the whole process.
class HushedStderr {
public:
    HushedStderr() : kept_(::dup(STDERR_FILENO)) {
        if (const int nowhere = ::open("/dev/null", O_WRONLY | O_CLOEXEC); nowhere >= 0) {
            ::dup2(nowhere, STDERR_FILENO);
            ::close(nowhere);
        }
    }
    ~HushedStderr() {
        if (kept_ >= 0) {
            ::dup2(kept_, STDERR_FILENO);
            ::close(kept_);
        }
    }
    HushedStderr(const HushedStderr&) = delete;
    HushedStderr& operator=(const HushedStderr&) = delete;

private:
    int kept_;
};

class SystemDevice : public AudioDevice {
public:
    ~SystemDevice() override { stop(); }

    bool exists() {
        library_.showWarnings(false);
        return library_.getDeviceCount() > 0;
    }

    std::string name() const override { return name_; }

    Expected<void> start(SampleRate rate, AudioCallback callback) override {
        stop();
        callback_ = std::move(callback);
        RtAudio::StreamParameters output;
        output.deviceId = library_.getDefaultOutputDevice();
        output.nChannels = 2;
        RtAudio::StreamOptions options;
        options.streamName = "Lampo";
        unsigned frames = 512;
        try {
            name_ = library_.getDeviceInfo(output.deviceId).name;
            library_.openStream(&output, nullptr, RTAUDIO_FLOAT32, static_cast<unsigned>(rate.hz), &frames,
                                &SystemDevice::fill, this, &options, &ignoreMessage);
            library_.startStream();
        } catch (const RtAudioError& error) {
            stop();
            return fail(ErrorKind::unreadable,
                        "The audio device \"" + name_ + "\" could not be started: " + error.getMessage());
        }
        return {};
    }

    void stop() override {
        try {
            if (library_.isStreamOpen())
                library_.closeStream();
        } catch (const RtAudioError&) {
            // The device is gone already, which is what was wanted.
        }
    }

private:
    static int fill(void* out, void*, unsigned frames, double, RtAudioStreamStatus, void* self) {
        static_cast<SystemDevice*>(self)->callback_(std::span(static_cast<float*>(out), 2 * std::size_t{frames}));
        return 0;
    }

    RtAudio library_;
    std::string name_ = "System";
    AudioCallback callback_;
};

} // namespace

std::unique_ptr<AudioDevice> systemDevice() {
    const HushedStderr hushed;
    try {
        auto device = std::make_unique<SystemDevice>();
        return device->exists() ? std::move(device) : nullptr;
    } catch (const RtAudioError&) {
        return nullptr;
    }
}

std::unique_ptr<AudioDevice> defaultDevice() {
    const char* wish = std::getenv("LAMPO_AUDIO");
    auto device = wish && std::string_view(wish) == "simulated" ? nullptr : systemDevice();
    return device ? std::move(device) : std::make_unique<SimulatedDevice>();
}

} // namespace lampo
