#include "support/one_shots.h"

#include "audio/audio_reader.h"

#include <algorithm>
#include <cmath>
#include <filesystem>

namespace lampo::test {
namespace {

using Sound = std::vector<float>;

const std::array<std::vector<std::string>, voices> names{{
    {"bd_808", "bd_ada", "bd_boom", "bd_fat", "bd_gas", "bd_haus", "bd_klub", "bd_pure", "bd_sone", "bd_tek",
     "bd_zome", "drum_heavy_kick", "drum_bass_hard", "drum_bass_soft"},
    {"drum_snare_hard", "drum_snare_soft", "sn_dolf", "sn_dub", "sn_generic", "sn_zome", "elec_snare"},
    {"drum_tom_hi_hard", "drum_tom_hi_soft"},
    {"drum_tom_mid_hard", "drum_tom_mid_soft"},
    {"drum_tom_lo_hard", "drum_tom_lo_soft"},
    {"drum_cymbal_closed", "drum_cymbal_pedal"},
    {"drum_cymbal_soft", "elec_cymbal"},
    {"drum_cymbal_hard", "drum_cymbal_open", "drum_splash_hard", "drum_splash_soft"},
}};

Sound read(const std::string& name) {
    auto reader = AudioReader::open("/usr/share/sonic-pi/samples/" + name + ".flac");
    if (!reader)
        return {};
    Sound sound(static_cast<std::size_t>(reader->info().length.frames));
    (void)reader->read(SourceFrame{0}, sound);
    return sound;
}

/// At another speed, by straight lines: pitch and rate are drawn, so nothing is lost by it.
Sound atSpeed(const Sound& sound, double speed) {
    Sound out;
    for (double at = 0; at + 1 < static_cast<double>(sound.size()); at += speed) {
        const auto i = static_cast<std::size_t>(at);
        const auto part = static_cast<float>(at - static_cast<double>(i));
        out.push_back(sound[i] + part * (sound[i + 1] - sound[i]));
    }
    return out;
}

void beginAtAttack(Sound& sound) {
    float peak = 0;
    for (const float x : sound)
        peak = std::max(peak, std::abs(x));
    sound.erase(sound.begin(),
                std::find_if(sound.begin(), sound.end(), [&](float x) { return std::abs(x) > 0.01F * peak; }));
}

} // namespace

std::array<std::vector<Sound>, voices> drawOneShots(Dice& dice, int rate) {
    constexpr std::array velocities{30, 50, 70, 88, 104, 118, 127};
    std::array<std::vector<Sound>, voices> sounds;
    for (std::size_t voice = 0; voice < voices; ++voice) {
        const auto& some = names[voice];
        const Sound shot = read(some[static_cast<std::size_t>(dice.upTo(static_cast<int>(some.size()) - 1))]);
        if (shot.empty())
            return {};
        Sound strong = atSpeed(shot, dice.between(0.85, 1.2) * 44100 / rate);
        strong.resize(std::min(strong.size(), static_cast<std::size_t>(3 * rate)));
        beginAtAttack(strong);
        for (const int velocity : velocities) {
            const float loud = static_cast<float>(std::pow(velocity / 118.0, 2));
            const float bright = static_cast<float>(std::min(1.0, 0.3 + 0.7 * velocity / 118.0));
            Sound layer(strong.size());
            float low = 0;
            for (std::size_t i = 0; i < layer.size(); ++i)
                layer[i] = loud * (low += bright * (strong[i] - low));
            sounds[voice].push_back(std::move(layer));
        }
    }
    return sounds;
}

} // namespace lampo::test
