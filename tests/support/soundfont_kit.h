#pragma once

#include <cstdint>
#include <map>
#include <string>
#include <vector>

namespace lampo::test {

/// A kit that this project did not make, with the exact place of every stroke: drums of TimGM6mb at several
/// velocities, bleeding into each other's mics by distance (1/r, 343 m/s, 6 dB off axis), noise at −78 dBFS.
struct SoundfontKit {
    std::vector<std::string> stems;                         ///< kick, snare, tom 1, floor tom, overheads
    std::vector<std::vector<float>> mics;                   ///< parallel to stems
    std::map<std::string, std::vector<std::int64_t>> truth; ///< per close mic, ascending
    std::vector<std::int64_t> ghosts;                       ///< of the snare
    std::vector<std::int64_t> buried; ///< soft strokes of its rolls, in the tail of the louder one before
    int rate = 48000;
};

/// About `bars` bars of 4/4 at `bpm`: back beats with ghost notes, runs of sixteenth kicks, snare rolls as
/// fast as hands go, fills over the toms, hats and crashes; up to 8 ms off the grid. Empty when fluidsynth or the
/// soundfont is missing.
SoundfontKit soundfontKit(double bpm, int bars, unsigned seed);

} // namespace lampo::test
