#pragma once

#include "audio/sample_format.h"
#include "demo_kit/acoustics.h"
#include "session/session.h"

#include <filesystem>
#include <string>
#include <vector>

namespace lampo::test {

/// Writes one file, whole. Fails the process when it cannot: the tests build on it.
void writeAudio(const std::filesystem::path& file, const std::vector<float>& samples,
                SampleFormat format = SampleFormat::wav24, SampleRate rate = {48000});
std::vector<float> readAudio(const std::filesystem::path& file);

/// The first `seconds` of take `letter` of the demo's score: strokes, and a folder with a file for each of the
/// named mics of the demo's kit.
struct BuiltTake {
    std::vector<demo::Stroke> strokes;
    std::int64_t length = 0;
};
BuiltTake buildTake(const std::filesystem::path& folder, char letter, double seconds,
                    const std::vector<std::string>& stems, SampleFormat format = SampleFormat::wav24);

/// Adds the two tracers: mics whose samples are the position in the source, n / 2^24 and 1 − n / 2^24, exact in 32
/// bit floats below 2^24 frames.
void addTracers(const std::filesystem::path& folder, std::int64_t length, SampleRate rate = {48000});

} // namespace lampo::test
