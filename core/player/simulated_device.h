#pragma once

#include "player/audio_device.h"

#include <filesystem>
#include <mutex>
#include <thread>
#include <vector>

namespace lampo {

/// Keeps time without hardware, for machines without sound and for tests, and can remember what was heard.
class SimulatedDevice : public AudioDevice {
public:
    /// `speed` 1 is real time. `remember` keeps everything that was heard (8 bytes a frame).
    explicit SimulatedDevice(double speed = 1, bool remember = false);
    ~SimulatedDevice() override;

    /// See AudioDevice.
    std::string name() const override { return "Simulated"; }
    Expected<void> start(SampleRate rate, AudioCallback callback) override;
    /// See AudioDevice.
    void stop() override;

    /// Interleaved stereo since start(), a copy; any thread.
    std::vector<float> recorded() const;
    /// Writes the mean of both channels as a 32 bit float WAV. Errors: those of AudioWriter.
    Expected<void> writeRecorded(const std::filesystem::path& file) const;

private:
    void run(const std::stop_token& stop, const AudioCallback& callback);

    double speed_;
    bool remember_;
    SampleRate rate_;
    mutable std::mutex guard_;
    std::vector<float> recorded_;
    std::jthread thread_;
};

} // namespace lampo
