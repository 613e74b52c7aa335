#pragma once

#include "session/settings.h"

namespace lampo {

/// The two gains of a crossfade at one point.
struct FadeGains {
    float out; ///< of the side that ends
    float in;  ///< of the side that begins
};

/// Sides that are less alike than this count as this: at it, both sound at their whole level in the middle.
inline constexpr double leastLikeness = -0.5;

/// Signal-matched crossfade: gains a, b with a² + b² + 2abr = 1, constant power when the two sides correlate by r
/// (Fink, Holters, Zölzer, DAFx-16, 2016, from memory). r = 0 is equal power (−3.01 dB in the middle), r = 1 equal
/// gain there (−6.02 dB). `along` goes from 0 (all out) to 1 (all in); r is limited to [leastLikeness, 1].
FadeGains matchedGains(double along, double correlation);

/// By any curve; `likeness` counts for the matched one. Equal power: cosine and sine; equal gain: straight lines;
/// decibels: straight from 0 to −60 dB, brought down to silence there.
FadeGains fadeGains(FadeCurve curve, double along, double likeness);

} // namespace lampo
