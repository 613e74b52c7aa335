#pragma once

#include "map/map_data.h"
#include "map/note_value.h"
#include "support/dice.h"

#include <array>
#include <set>
#include <string>
#include <vector>

namespace lampo::test {

enum Voice : std::size_t { kick, snare, tomHigh, tomMid, floorTom, hat, ride, crash, voices };
inline const std::array<std::string, voices> voiceNames{"kick in",   "snare top", "tom 1", "tom 2",
                                                        "floor tom", "hat",       "ride",  "crash"};

struct Note {
    double step; ///< from the song's bar 1, in grid steps
    Voice voice;
    double level; ///< dB
    bool ghost = false;
    bool grace = false;
};

/// One bar of a groove, in grid steps.
struct Style {
    std::string name;
    int steps; ///< in a bar
    Meter meter;
    NoteValue grid;
    double slowest, fastest;
    std::vector<int> kicks, snares, time; ///< time: hat or ride
    std::vector<int> ghosts;
};

/// Who plays what, how.
struct Player {
    Style style;
    double bpm = 120;
    int bars = 16;
    bool onRide = false;
    bool flams = false;
    bool tomGroove = false;
    bool rolls = false; ///< on snare and toms, in strokes of half a grid step
    double fills = 0.5; ///< chance at every fourth bar
    double ghostChance = 0.5;
    std::set<Voice> idle;
    std::array<double, voices> early{}; ///< ms, the habit of each limb
};

Player drawPlayer(Dice& dice);

/// About 45 s: a bar counted in, grooves, fills at some fourth bars.
std::vector<Note> songOf(const Player& player, Dice& dice);

} // namespace lampo::test
