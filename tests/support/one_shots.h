#pragma once

#include "support/random_player.h"

#include <array>
#include <vector>

namespace lampo::test {

/// For each voice a drawn one-shot of Debian's sonic-pi-samples, acoustic or electronic, as seven strokes from soft
/// to strong, soft ones duller; each begins with its attack (40 dB below its peak). Empty where the package is
/// missing.
std::array<std::vector<std::vector<float>>, voices> drawOneShots(Dice& dice, int rate);

} // namespace lampo::test
