#pragma once

#include <filesystem>
#include <vector>

namespace lampo::test {

/// Single strokes of a General MIDI drum kit that this project did not make: TimGM6mb, played by fluidsynth without
/// reverb and chorus. hits[drum][velocity], drums in the order of `keys`, each beginning with its attack: the first
/// sample within `within` dB of its peak. Empty when fluidsynth or the soundfont is missing.
std::vector<std::vector<std::vector<float>>>
soundfontHits(const std::vector<int>& keys, const std::vector<int>& velocities, int rate, double within = 40);

/// Where Debian's packages put the soundfonts.
inline const std::filesystem::path timGm6mb = "/usr/share/sounds/sf2/TimGM6mb.sf2";
inline const std::filesystem::path museScoreGeneral = "/usr/share/sounds/sf3/MuseScore_General_Lite.sf3";
/// Recorded kits (avldrums.lv2-soundfont): bass drums of 22 and 26 inches that ring for a second.
inline const std::filesystem::path blackPearl = "/usr/share/sounds/sf2/Black_Pearl_4_LV2.sf2";
inline const std::filesystem::path redZeppelin = "/usr/share/sounds/sf2/Red_Zeppelin_4_LV2.sf2";

/// Which strokes of which kit.
struct SoundfontOrder {
    std::filesystem::path font;
    int program = 0; ///< on `channel`
    std::vector<int> keys;
    std::vector<int> velocities;
    int rate = 48000;
    double within = 40;
    double secondsApart = 4; ///< a stroke is cut off when the next one comes
    int channel = 10;        ///< where General MIDI has its drums
};
std::vector<std::vector<std::vector<float>>> soundfontHits(const SoundfontOrder& order);

} // namespace lampo::test
