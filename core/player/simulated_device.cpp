#include "player/simulated_device.h"

#include "audio/audio_writer.h"

#include <chrono>

namespace lampo {
namespace {

constexpr std::size_t framesPerCall = 512;

} // namespace

SimulatedDevice::SimulatedDevice(double speed, bool remember) : speed_(speed), remember_(remember) {}

SimulatedDevice::~SimulatedDevice() {
    SimulatedDevice::stop();
}

Expected<void> SimulatedDevice::start(SampleRate rate, AudioCallback callback) {
    stop();
    rate_ = rate;
    thread_ = std::jthread(
        [this, callback = std::move(callback)](const std::stop_token& token) { run(token, callback); });
    return {};
}

void SimulatedDevice::stop() {
    if (thread_.joinable()) {
        thread_.request_stop();
        thread_.join();
    }
}

void SimulatedDevice::run(const std::stop_token& stop, const AudioCallback& callback) {
    using Clock = std::chrono::steady_clock;
    const auto period = std::chrono::duration_cast<Clock::duration>(
        std::chrono::duration<double>(static_cast<double>(framesPerCall) / rate_.hz / speed_));
    std::vector<float> buffer(2 * framesPerCall);
    for (auto due = Clock::now(); !stop.stop_requested(); due += period) {
        std::this_thread::sleep_until(due);
        callback(buffer);
        if (remember_) {
            const std::scoped_lock lock(guard_);
            recorded_.insert(recorded_.end(), buffer.begin(), buffer.end());
        }
    }
}

std::vector<float> SimulatedDevice::recorded() const {
    const std::scoped_lock lock(guard_);
    return recorded_;
}

Expected<void> SimulatedDevice::writeRecorded(const std::filesystem::path& file) const {
    const auto stereo = recorded();
    std::vector<float> mono(stereo.size() / 2);
    for (std::size_t i = 0; i < mono.size(); ++i)
        mono[i] = 0.5F * (stereo[2 * i] + stereo[2 * i + 1]);
    auto writer = AudioWriter::create(file, SampleFormat::wav32f, rate_);
    if (!writer)
        return tl::unexpected(writer.error());
    return writer->write(mono).and_then([&] { return writer->close(); }).and_then([&] { return writer->commit(); });
}

} // namespace lampo
