#pragma once

#include "map/map_data.h"
#include "map/note_value.h"

#include <cstdint>
#include <string>
#include <vector>

namespace lampo::test {

/// One stroke of a random kit. Its true start is the first sample above −40 dB of the stroke's own peak, in its own
/// mic, alone.
struct TrueStroke {
    std::int64_t at = 0;      ///< the true start, frames of the take
    std::int64_t minus20 = 0; ///< the first sample above −20 dB of its peak
    std::int64_t line = 0;    ///< the grid line that was meant
    std::size_t drum = 0;     ///< index into RandomKit::drums
    double level = 0;         ///< dB against a strong stroke of the drum
    bool ghost = false;       ///< a snare stroke 18 to 28 dB under the backbeat
    bool grace = false;       ///< the soft stroke of a flam
    bool hatAhead = false;    ///< a hat was struck 0.5 to 13 ms before it
};

/// A kit, a player and a room drawn at random from public soundfonts, with the exact truth.
struct RandomKit {
    std::string what; ///< in words, for the log
    int rate = 48000;
    MapData map;
    NoteValue grid{1, 16};
    bool loudest = false;                 ///< everything within 8 to 14 dB of everything
    std::vector<std::string> stems;       ///< of the mics
    std::vector<std::vector<float>> mics; ///< mics x frames
    std::vector<std::string> drums;       ///< those that have a mic of their own come first and bear its stem
    std::size_t landed = 0;               ///< of the drums: kick, snare, toms, the first ones
    std::vector<TrueStroke> strokes;      ///< in order of time

    bool idle(std::size_t drum) const;
};

/// What the drums of a kit are made of.
enum class KitSounds {
    layers,      ///< a soundfont's: MuseScore General or TimGM6mb
    oneShots,    ///< single samples of sonic-pi-samples
    recordedKits ///< layers of avldrums.lv2-soundfont: recorded drums that nothing was tuned or trained by at first
};

/// Harsher than life, beside what random kits have anyway.
struct Harshness {
    double bleed = 0; ///< dB that everything bleeds louder; never louder than 2 dB below its own mic
    KitSounds sounds = KitSounds::layers; ///< what it is played on
    bool rolls = false;                   ///< snares and toms rolled in strokes twice as fast as the grid
    bool parted = false;                  ///< two mics, or three, that are one mix, parted at some frequency
    double squash = 0;                    ///< dB by which every mic is driven into its tape
    double loose = 1;                     ///< so many times as far apart as hands and feet usually are
    double preamps = 0;                   ///< dB by which mics are louder or softer than others, at most
    int missing = 0;                      ///< so many mics are left out, overheads first
};
/// Drawn: some of that, or all.
Harshness harshnessOf(std::uint64_t seed);

/// The seed decides everything. Soundfonts: MuseScore General (standard, room, power, jazz, brush) and TimGM6mb.
/// Empty when fluidsynth or a soundfont is missing. `loose`: so many times as far off their lines as people play
/// who need no help.
RandomKit randomKit(std::uint64_t seed, double loose = 1, const Harshness& harsh = {});

} // namespace lampo::test
