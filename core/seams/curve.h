#pragma once

namespace lampo {

/// The two gains of a crossfade at one point.
struct FadeGains {
    float out; ///< of the side that ends
    float in;  ///< of the side that begins
};

/// Signal-matched crossfade: gains a, b with a² + b² + 2abr = 1, constant power when the two sides correlate by r
/// (Fink, Holters, Zölzer, DAFx-16, 2016, from memory). r = 0 is equal power (−3.01 dB in the middle), r = 1 equal
/// gain there (−6.02 dB). `along` goes from 0 (all out) to 1 (all in); r is limited to [0, 1].
FadeGains matchedGains(double along, double correlation);

} // namespace lampo
