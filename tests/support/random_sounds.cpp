#include "support/random_sounds.h"

#include "support/one_shots.h"
#include "support/soundfont_hits.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <mutex>
#include <utility>

namespace lampo::test {
namespace {

using Sound = std::vector<float>;

const std::vector<int> velocities{30, 50, 70, 88, 104, 118, 127};

/// One kit of a soundfont, by its name. Two keys for each voice.
struct Font {
    std::string name;
    SoundfontOrder order;
};

/// General MIDI Level 1 percussion key map.
const std::vector<int> generalMidi{36, 35, 38, 40, 50, 48, 47, 45, 41, 43, 42, 46, 51, 59, 49, 57};
/// Of the same map; these have one tom above the floor tom, struck in the middle and at its edge, and a key of the
/// hat's at 48. Their cymbals ring longer.
const std::vector<int> fourPieces{36, 36, 38, 40, 47, 47, 45, 45, 43, 41, 42, 46, 51, 53, 49, 57};

Font generalMidiFont(std::string name, const std::filesystem::path& file, int program, int rate) {
    return {std::move(name), {file, program, generalMidi, velocities, rate, 40, 4, 10}};
}

Font recordedFont(std::string name, const std::filesystem::path& file, int rate) {
    return {std::move(name), {file, 0, fourPieces, velocities, rate, 40, 6, 1}};
}

/// hits[key][velocity] of one kit; rendered once and kept, since fluidsynth takes seconds.
const std::vector<std::vector<Sound>>& bank(const Font& font) {
    static std::mutex guard;
    static std::map<std::pair<std::string, int>, std::vector<std::vector<Sound>>> banks;
    const std::scoped_lock lock(guard);
    auto& known = banks[{font.name, font.order.rate}];
    if (known.empty())
        known = soundfontHits(font.order);
    return known;
}

Font drawFont(Dice& dice, int rate, KitSounds from) {
    if (from == KitSounds::recordedKits)
        return dice.chance(0.5) ? recordedFont("Black Pearl", blackPearl, rate)
                                : recordedFont("Red Zeppelin", redZeppelin, rate);
    constexpr std::array programs{0, 8, 16, 32, 40};
    constexpr std::array programNames{"standard", "room", "power", "jazz", "brush"};
    if (dice.chance(0.2))
        return generalMidiFont("TimGM6mb", timGm6mb, 0, rate);
    const auto program = static_cast<std::size_t>(dice.upTo(4));
    return generalMidiFont(std::string(programNames[program]) + " kit", museScoreGeneral, programs[program], rate);
}

std::array<std::vector<Sound>, voices> drawLayers(Dice& dice, int rate, std::string& what, KitSounds from) {
    const Font font = drawFont(dice, rate, from);
    what += font.name;
    const auto& all = bank(font);
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

std::array<std::vector<Sound>, voices> drawSounds(Dice& dice, int rate, std::string& what, KitSounds from) {
    auto sounds = drawLayers(dice, rate, what, from);
    if (from == KitSounds::oneShots) {
        sounds = drawOneShots(dice, rate);
        what += ", one-shots";
    }
    finish(sounds);
    return sounds;
}

} // namespace lampo::test
