#pragma once

#include "base/units.h"
#include "onsets/band_energies.h"

#include <cstddef>

namespace lampo {

/// What is known of the drum that a witness stands at.
struct DrumModel {
    bool isWitness = false;  ///< there is such a drum: its mic bears witness
    bool played = false;     ///< it is struck in this take, as far as anyone can hear
    Decibels strong{-200};   ///< a typical strong stroke in its own mic's weighted bands, dBFS
    BandEnergies profile{};  ///< how a strong stroke's power lies in the bands; its weighted sum is 1
    std::size_t strokes = 0; ///< that were found of it
};

} // namespace lampo
