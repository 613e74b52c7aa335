#include "demo_kit/one_shots.h"

#include "audio/audio_writer.h"
#include "base/text.h"
#include "demo_kit/demo_recording.h"

#include <fmt/core.h>

namespace lampo::demo {
namespace {

namespace fs = std::filesystem;

Expected<void> write(const fs::path& file, const std::vector<float>& sound) {
    auto writer = AudioWriter::create(file, SampleFormat::wav24, {demoRate});
    if (!writer)
        return tl::unexpected(writer.error());
    return writer->write(sound).and_then([&] { return writer->close(); }).and_then([&] {
        return writer->commit();
    });
}

} // namespace

Expected<std::vector<SampleLayer>> writeOneShots(Drum drum, const fs::path& folder) {
    std::error_code code;
    fs::create_directories(folder, code);
    std::vector<SampleLayer> layers;
    for (const auto& [word, upTo, velocity] : {std::tuple{"soft", -12.0, 0.35}, {"loud", 0.0, 0.9}}) {
        SampleLayer layer{{upTo}, {}};
        for (int turn = 1; turn <= 2; ++turn) {
            const fs::path file = folder / fmt::format("{} {} {}.wav", name(drum), word, turn);
            layer.files.emplace_back(file);
            std::error_code missing;
            if (fs::exists(file, missing))
                continue;
            Random random(static_cast<std::uint64_t>(turn) + 10 * static_cast<std::uint64_t>(drum));
            std::vector<float> sound = strike(drum, velocity, demoRate, random);
            float peak = 0;
            for (const float sample : sound)
                peak = std::max(peak, std::abs(sample));
            for (float& sample : sound)
                sample *= 0.8F / std::max(peak, 1e-6F);
            if (auto written = write(file, sound); !written)
                return tl::unexpected(written.error());
        }
        layers.push_back(std::move(layer));
    }
    return layers;
}

} // namespace lampo::demo
