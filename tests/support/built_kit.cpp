#include "support/built_kit.h"

#include "audio/audio_reader.h"
#include "audio/audio_writer.h"
#include "demo_kit/score.h"

#include <algorithm>
#include <cmath>
#include <stdexcept>

namespace lampo::test {

void writeAudio(const std::filesystem::path& file, const std::vector<float>& samples, SampleFormat format,
                SampleRate rate) {
    auto writer = AudioWriter::create(file, format, rate);
    if (!writer || !writer->write(samples) || !writer->close() || !writer->commit())
        throw std::runtime_error("could not write " + file.string());
}

std::vector<float> readAudio(const std::filesystem::path& file) {
    auto reader = AudioReader::open(file);
    if (!reader)
        throw std::runtime_error(reader.error().sentence);
    std::vector<float> samples(static_cast<std::size_t>(reader->info().length.frames));
    if (!reader->read(SourceFrame{0}, samples))
        throw std::runtime_error("could not read " + file.string());
    return samples;
}

BuiltTake buildTake(const std::filesystem::path& folder, char letter, double seconds,
                    const std::vector<std::string>& stems, SampleFormat format) {
    constexpr int rate = 48000;
    BuiltTake built;
    built.length = std::llround(seconds * rate);
    built.strokes = demo::performance(demo::lighthouseRelay(rate), letter, rate);
    std::erase_if(built.strokes, [&](const auto& stroke) { return stroke.sample > built.length - rate / 2; });
    const auto mics = demo::demoMics();
    const auto recorded = demo::record(built.strokes, mics, built.length, rate, static_cast<std::uint64_t>(letter));
    std::filesystem::create_directories(folder);
    for (std::size_t m = 0; m < mics.size(); ++m)
        if (std::find(stems.begin(), stems.end(), mics[m].stem) != stems.end())
            writeAudio(folder / (mics[m].stem + ".wav"), recorded[m], format);
    return built;
}

void addTracers(const std::filesystem::path& folder, std::int64_t length, SampleRate rate) {
    std::vector<float> up(static_cast<std::size_t>(length)), down(up.size());
    for (std::size_t n = 0; n < up.size(); ++n) {
        up[n] = std::ldexp(static_cast<float>(n), -24);
        down[n] = 1.0F - up[n];
    }
    writeAudio(folder / "tracer_up.wav", up, SampleFormat::wav32f, rate);
    writeAudio(folder / "tracer_down.wav", down, SampleFormat::wav32f, rate);
}

} // namespace lampo::test
