#pragma once

#include <vector>

namespace lampo::test {

/// Single strokes of a General MIDI drum kit that this project did not make: TimGM6mb, played by fluidsynth without
/// reverb and chorus. hits[drum][velocity], drums in the order of `keys`, each beginning with its attack: the first
/// sample within `within` dB of its peak. Empty when fluidsynth or the soundfont is missing.
std::vector<std::vector<std::vector<float>>>
soundfontHits(const std::vector<int>& keys, const std::vector<int>& velocities, int rate, double within = 40);

} // namespace lampo::test
