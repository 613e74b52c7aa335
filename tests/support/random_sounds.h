#pragma once

#include "support/random_kit.h"
#include "support/random_player.h"

#include <array>
#include <string>
#include <vector>

namespace lampo::test {

/// 0 for silence.
float peakOf(const std::vector<float>& sound);

/// The drums of one kit: for each voice its layers, softest first, the strong one's peak being 1; they end where
/// they are 60 dB down. Which kit is drawn, and told in `what`. Empty where a package is missing.
std::array<std::vector<std::vector<float>>, voices> drawSounds(Dice& dice, int rate, std::string& what,
                                                               KitSounds from);

} // namespace lampo::test
