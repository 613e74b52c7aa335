#pragma once

#include "timing/landing.h"

namespace lampo {

/// Neighbours that cannot be cut apart with every attack whole move as one: too near as played, too near (or in the
/// wrong order) as landed, or drawn so far apart that their short tail would have to be repeated over and over. The
/// begin and the end of the files never move. `length` is the take's.
void holdTogether(std::span<const Hit> hits, std::span<Landing> landings, FrameCount length, SampleRate rate);

} // namespace lampo
