#include "support/soundfont_hits.h"

#include "support/temp_folder.h"

#include <sndfile.h>

#include <algorithm>
#include <cmath>
#include <cstdlib>

namespace lampo::test {
namespace {

void appendNumber(std::string& bytes, unsigned value, int count) {
    for (int i = count - 1; i >= 0; --i)
        bytes += static_cast<char>(value >> (8 * i) & 0xFFU);
}

/// A Standard MIDI File of format 0, 500 ticks a quarter at 120 BPM: a tick is a millisecond.
std::string midiFile(const SoundfontOrder& order) {
    const int channel = order.channel - 1;
    std::string track{0, static_cast<char>(0xC0 | channel), static_cast<char>(order.program)};
    bool first = true;
    for (const int key : order.keys)
        for (const int velocity : order.velocities) {
            const unsigned wait = first ? 500 : static_cast<unsigned>(order.secondsApart * 1000) - 100;
            first = false;
            track += static_cast<char>(0x80U | wait >> 7U);
            track += static_cast<char>(wait & 0x7FU);
            track += {static_cast<char>(0x90 | channel), static_cast<char>(key), static_cast<char>(velocity)};
            track += {static_cast<char>(100), static_cast<char>(0x80 | channel), static_cast<char>(key), 0};
        }
    track += {static_cast<char>(0x8F), 0, static_cast<char>(0xFF), 0x2F, 0};
    std::string bytes = "MThd";
    appendNumber(bytes, 6, 4);
    appendNumber(bytes, 0, 2);
    appendNumber(bytes, 1, 2);
    appendNumber(bytes, 500, 2);
    bytes += "MTrk";
    appendNumber(bytes, static_cast<unsigned>(track.size()), 4);
    return bytes + track;
}

std::vector<float> leftChannel(const std::filesystem::path& file) {
    SF_INFO info{};
    SNDFILE* in = sf_open(file.c_str(), SFM_READ, &info);
    if (!in)
        return {};
    std::vector<float> frames(static_cast<std::size_t>(info.frames * info.channels));
    sf_readf_float(in, frames.data(), info.frames);
    sf_close(in);
    std::vector<float> left(static_cast<std::size_t>(info.frames));
    for (std::size_t i = 0; i < left.size(); ++i)
        left[i] = frames[i * static_cast<std::size_t>(info.channels)];
    return left;
}

std::vector<float> fromAttack(std::vector<float> window, double within) {
    const auto louder = [](float a, float b) { return std::abs(a) < std::abs(b); };
    const float peak = std::abs(*std::max_element(window.begin(), window.end(), louder));
    const auto start = std::find_if(window.begin(), window.end(), [&](float x) {
        return std::abs(x) > static_cast<double>(peak) * std::pow(10.0, -within / 20);
    });
    window.erase(window.begin(), start);
    return window;
}

} // namespace

std::vector<std::vector<std::vector<float>>>
soundfontHits(const std::vector<int>& keys, const std::vector<int>& velocities, int rate, double within) {
    return soundfontHits({timGm6mb, 0, keys, velocities, rate, within, 2.0, 10});
}

std::vector<std::vector<std::vector<float>>> soundfontHits(const SoundfontOrder& order) {
    const auto& [font, program, keys, velocities, rate, within, secondsApart, channel] = order;
    const TempFolder folder;
    writeBytes(folder / "hits.mid", midiFile(order));
    const std::string command = "fluidsynth -ni -R 0 -C 0 -g 1 -r " + std::to_string(rate) + " -F '" +
                                (folder / "hits.wav").string() + "' '" + font.string() + "' '" +
                                (folder / "hits.mid").string() + "' >/dev/null 2>&1";
    if (std::system(command.c_str()) != 0)
        return {};
    const auto sound = leftChannel(folder / "hits.wav");
    std::vector<std::vector<std::vector<float>>> hits(keys.size());
    const auto length = static_cast<std::size_t>(secondsApart * rate);
    std::size_t at = static_cast<std::size_t>(0.45 * rate);
    for (auto& perDrum : hits)
        for (std::size_t v = 0; v < velocities.size(); ++v, at += length) {
            if (at + length > sound.size() + length / 2)
                return {};
            const auto end = std::min(sound.size(), at + length - static_cast<std::size_t>(rate / 10));
            perDrum.push_back(fromAttack(
                {sound.begin() + static_cast<std::ptrdiff_t>(at), sound.begin() + static_cast<std::ptrdiff_t>(end)},
                within));
        }
    return hits;
}

} // namespace lampo::test
