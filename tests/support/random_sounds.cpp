#include "support/random_sounds.h"

#include "support/one_shots.h"
#include "support/soundfont_hits.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <mutex>
#include <tuple>

namespace lampo::test {
namespace {

using Sound = std::vector<float>;

const std::vector<int> velocities{30, 50, 70, 88, 104, 118, 127};

/// hits[key][velocity] of one kit; rendered once and kept, since fluidsynth takes seconds.
const std::vector<std::vector<Sound>>& bank(bool museScore, int program, int rate) {
    static std::mutex guard;
    static std::map<std::tuple<bool, int, int>, std::vector<std::vector<Sound>>> banks;
    const std::scoped_lock lock(guard);
    auto& known = banks[{museScore, program, rate}];
    if (known.empty()) // General MIDI Level 1 percussion key map
        known = soundfontHits({museScore ? museScoreGeneral : timGm6mb,
                               program,
                               {36, 35, 38, 40, 50, 48, 47, 45, 41, 43, 42, 46, 51, 59, 49, 57},
                               velocities,
                               rate});
    return known;
}

std::array<std::vector<Sound>, voices> drawLayers(Dice& dice, int rate, std::string& what) {
    constexpr std::array programs{0, 8, 16, 32, 40};
    constexpr std::array programNames{"standard", "room", "power", "jazz", "brush"};
    const bool museScore = !dice.chance(0.2);
    const auto program = static_cast<std::size_t>(museScore ? dice.upTo(4) : 0);
    what += museScore ? std::string(programNames[program]) + " kit" : "TimGM6mb";
    const auto& all = bank(museScore, programs[program], rate);
    std::array<std::vector<Sound>, voices> sounds;
    for (std::size_t voice = 0; voice < voices && !all.empty(); ++voice)
        sounds[voice] = all[2 * voice + static_cast<std::size_t>(dice.upTo(1))];
    return sounds;
}

/// Strong ones peak at 1; they end where they are 60 dB down.
void finish(std::array<std::vector<Sound>, voices>& sounds) {
    for (std::size_t voice = 0; voice < voices && !sounds[voice].empty(); ++voice) {
        const float strong = peakOf(sounds[voice][5]);
        for (Sound& sound : sounds[voice]) {
            for (float& x : sound)
                x /= strong;
            const float quiet = peakOf(sound) * 0.001F; // what is 60 dB down is left out
            const auto end =
                std::find_if(sound.rbegin(), sound.rend(), [&](float x) { return std::abs(x) > quiet; });
            sound.erase(end.base(), sound.end());
            const auto fade = std::min<std::size_t>(sound.size(), 2000);
            for (std::size_t i = 0; i < fade; ++i)
                sound[sound.size() - 1 - i] *= static_cast<float>(i) / static_cast<float>(fade);
        }
    }
}

} // namespace

float peakOf(const Sound& sound) {
    float peak = 0;
    for (const float x : sound)
        peak = std::max(peak, std::abs(x));
    return peak;
}

std::array<std::vector<Sound>, voices> drawSounds(Dice& dice, int rate, std::string& what, bool oneShots) {
    auto sounds = drawLayers(dice, rate, what);
    if (oneShots) {
        sounds = drawOneShots(dice, rate);
        what += ", one-shots";
    }
    finish(sounds);
    return sounds;
}

} // namespace lampo::test
