#include "support/random_player.h"

#include <cmath>
#include <utility>

namespace lampo::test {
namespace {

const std::vector<Style> styles{
    {"rock", 16, {4, 4}, {1, 16}, 84, 160, {0, 8, 10}, {4, 12}, {0, 2, 4, 6, 8, 10, 12, 14}, {3, 7, 9, 15}},
    {"sixteenth hats",
     16,
     {4, 4},
     {1, 16},
     66,
     116,
     {0, 3, 8, 10},
     {4, 12},
     {0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14, 15},
     {7, 9, 15}},
    {"half time", 16, {4, 4}, {1, 16}, 110, 180, {0, 6, 10}, {8}, {0, 4, 8, 12}, {3, 7, 13}},
    {"shuffle", 12, {4, 4}, {1, 12}, 80, 150, {0, 5, 6}, {3, 9}, {0, 2, 3, 5, 6, 8, 9, 11}, {4, 7, 10}},
    {"six eight", 12, {6, 8}, {1, 16}, 66, 100, {0, 10}, {6}, {0, 2, 4, 6, 8, 10}, {5, 9, 11}},
    {"double kick",
     16,
     {4, 4},
     {1, 16},
     120,
     200,
     {0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14, 15},
     {4, 12},
     {0, 4, 8, 12},
     {}},
    {"blast",
     16,
     {4, 4},
     {1, 16},
     130,
     200,
     {0, 2, 4, 6, 8, 10, 12, 14},
     {0, 2, 4, 6, 8, 10, 12, 14},
     {0, 2, 4, 6, 8, 10, 12, 14},
     {}},
    {"jazz", 12, {4, 4}, {1, 12}, 100, 180, {0, 6}, {9}, {0, 3, 5, 6, 9, 11}, {2, 4, 8, 11}},
};

class Writer {
public:
    Writer(const Player& player, Dice& dice) : player_(player), dice_(dice) {}

    std::vector<Note> song() {
        for (int bar = 1; bar < player_.bars; ++bar) { // bar 0 is counted in
            const bool fill = bar % 4 == 0 && dice_.chance(player_.fills);
            groove(bar, fill ? player_.style.steps / 2 : player_.style.steps);
            if (fill)
                playFill(bar);
            if (player_.rolls && bar % 3 == 0)
                roll(bar);
        }
        std::erase_if(notes_, [&](const Note& note) { return player_.idle.contains(note.voice); });
        return std::move(notes_);
    }

private:
    void add(int bar, double step, Voice voice, double level, bool ghost = false) {
        notes_.push_back({bar * player_.style.steps + step, voice, level, ghost});
    }
    void groove(int bar, int end) {
        const Style& style = player_.style;
        const bool sparse = style.name == "double kick" && bar % 2 == 0;
        for (const int step : style.kicks)
            if (step < end && !(sparse && step % 4 != 0))
                add(bar, step, kick, dice_.around(step % 2 == 0 ? 0 : -3, 1.2, 4));
        for (const int step : style.snares)
            if (step < end) {
                add(bar, step, snare, dice_.around(0, 1.2, 4));
                if (player_.flams && dice_.chance(0.15)) {
                    notes_.push_back(
                        {bar * style.steps + step - 0.001, snare, dice_.between(-14, -8), false, true});
                }
            }
        for (const int step : style.time)
            if (step < end)
                add(bar, step,
                    player_.tomGroove ? floorTom
                    : player_.onRide  ? ride
                                      : hat,
                    dice_.around(step % 4 == 0 ? 0 : -4, 1.5, 4));
        for (const int step : style.ghosts)
            if (step < end && dice_.chance(player_.ghostChance))
                add(bar, step, snare, dice_.between(-28, -18), true);
        if (bar % 4 == 1)
            add(bar, 0, crash, dice_.around(0, 1, 2));
    }
    /// A beat or two of single strokes that swell, on one drum.
    void roll(int bar) {
        const int steps = player_.style.steps;
        const Voice voice = dice_.chance(0.6) ? snare : dice_.chance(0.5) ? tomMid : floorTom;
        const int length = dice_.chance(0.5) ? steps / 4 : steps / 2;
        const double softest = dice_.between(-16, -4);
        for (int half = 0; half < 2 * length; ++half)
            add(bar, steps - length + 0.5 * half, voice,
                softest * (1 - half / (2.0 * length)) + dice_.around(0, 1.5, 3));
    }
    void playFill(int bar) {
        const int steps = player_.style.steps;
        std::vector<Voice> hands{snare};
        for (const Voice tom : {tomHigh, tomMid, floorTom})
            if (!player_.idle.contains(tom))
                hands.push_back(tom);
        for (int step = steps / 2; step < steps; ++step) {
            const auto at = static_cast<std::size_t>((step - steps / 2) * static_cast<int>(hands.size()) /
                                                     std::max(1, steps / 2));
            add(bar, step, hands[at], dice_.around(-2, 2, 4));
            if (step % 4 == 0)
                add(bar, step, kick, dice_.around(0, 1, 3));
        }
    }

    const Player& player_;
    Dice& dice_;
    std::vector<Note> notes_;
};

} // namespace

Player drawPlayer(Dice& dice) {
    Player player;
    player.style = styles[static_cast<std::size_t>(dice.upTo(static_cast<int>(styles.size()) - 1))];
    player.bpm = std::round(dice.between(player.style.slowest, player.style.fastest));
    const double barSeconds = player.style.meter.barInWholes() * 240 / player.bpm;
    player.bars = static_cast<int>(45 / barSeconds);
    player.onRide = dice.chance(player.style.name == "jazz" ? 0.9 : 0.2);
    player.flams = dice.chance(0.25);
    player.ghostChance = dice.between(0, 0.8);
    if (dice.chance(0.35))
        player.idle = {tomHigh, tomMid, floorTom};
    else
        for (const Voice tom : {tomHigh, tomMid, floorTom})
            if (dice.chance(0.2))
                player.idle.insert(tom);
    player.fills = dice.chance(0.2) ? 0.15 : 0.6;
    player.tomGroove = dice.chance(0.08) && !player.idle.contains(floorTom);
    if (dice.chance(0.04))
        player.idle.insert(snare);
    for (std::size_t voice = 0; voice < voices; ++voice)
        player.early[voice] = dice.around(0, voice == hat || voice == ride ? 4 : 2, 6);
    return player;
}

std::vector<Note> songOf(const Player& player, Dice& dice) {
    return Writer(player, dice).song();
}

} // namespace lampo::test
