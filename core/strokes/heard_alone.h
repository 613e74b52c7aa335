#pragma once

#include "strokes/moments.h"

#include <span>
#include <vector>

namespace lampo {

/// What a witness hears first and loudest while one other drum's mic hears nothing: its own drum's strokes, or what
/// has no mic.
struct HeardAlone {
    std::size_t events = 0; ///< about as loud as the strong ones of them
    double strong = -200;   ///< dBFS in the witness's weighted bands
    BandEnergies bands{};   ///< power of a strong one
};

/// For each drum's mic and each witness (drum by drum, witnesses x witnesses), of the events `first` that no other
/// mic hears louder or earlier: those with nothing in the drum's mic within `apart` ms.
std::vector<HeardAlone> heardAlone(const Moments& moments, std::span<const std::size_t> first,
                                   std::size_t witnesses, double apart);

} // namespace lampo
