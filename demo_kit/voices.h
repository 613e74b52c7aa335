#pragma once

#include "demo_kit/random.h"

#include <string_view>
#include <vector>

namespace lampo::demo {

enum class Drum { kick, snare, tomRack, tomFloor, hat, ride, crash, sticks };

inline constexpr int drumCount = 8;

/// "kick", "snare", "tom_rack" …: the names used in the truth.
std::string_view name(Drum drum);

/// One stroke as it sounds close to the drum, mono. Its first sample is the start of the attack; velocity 0 to 1 is
/// its amplitude and, to a lesser degree, its brightness. Modal synthesis for shells, shaped noise for the rest.
std::vector<float> strike(Drum drum, double velocity, int rate, Random& random);

/// One bass note of `seconds`, plucked.
std::vector<float> bassNote(double hertz, double seconds, int rate);

} // namespace lampo::demo
