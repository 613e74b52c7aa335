#include "demo_kit/score.h"

#include "map/musical_map.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace lampo::demo {
namespace {

constexpr int countIn = 1;
constexpr int spoiledBar = 9;
constexpr int flamBar = 10;
constexpr int shortBar = 11;
constexpr int fillBar = 12;
constexpr int lastBar = 22;

struct Note {
    int bar;
    double quarter; ///< quarter notes after the bar line
    Drum drum;
    double velocity;
    bool ghost = false;
};

/// How a take is played: seconds, positive is late.
struct Manner {
    double jitter;      ///< deviation of the single stroke
    double drift;       ///< how far the slow wander goes
    double driftPeriod; ///< in quarter notes
    double lean;        ///< steady lateness
    bool spoils = false;
    bool rushes = false;
    double fillJitter = 0.006;
    bool weakStroke = false;
    std::uint64_t seed = 0;
};

Manner mannerOf(char take) {
    switch (take) {
    case 'A':
        return {.jitter = 0.006,
                .drift = 0.010,
                .driftPeriod = 23,
                .lean = 0.002,
                .spoils = true,
                .rushes = true,
                .fillJitter = 0.016,
                .weakStroke = true,
                .seed = 11};
    case 'B':
        return {.jitter = 0.009, .drift = 0.014, .driftPeriod = 17, .lean = 0.006, .fillJitter = 0.005, .seed = 22};
    default:
        return {
            .jitter = 0.008, .drift = 0.012, .driftPeriod = 31, .lean = -0.004, .fillJitter = 0.012, .seed = 33};
    }
}

class Writer {
public:
    std::vector<Note> notes;

    void add(int bar, double quarter, Drum drum, double velocity) {
        notes.push_back({bar, quarter, drum, velocity});
    }
    void ghost(int bar, double quarter, double velocity) {
        notes.push_back({bar, quarter, Drum::snare, velocity, true});
    }

    void hats(int bar, int quarters, Drum on = Drum::hat) {
        for (int eighth = 0; eighth < quarters * 2; ++eighth)
            add(bar, eighth * 0.5, on, eighth % 2 == 0 ? 0.8 : 0.55);
    }
    void backbeat(int bar) {
        add(bar, 0, Drum::kick, 0.95);
        add(bar, 1, Drum::snare, 0.9);
        add(bar, 2, Drum::kick, 0.85);
        add(bar, 3, Drum::snare, 0.92);
    }
    void boatOut(int bar) {
        hats(bar, 4);
        backbeat(bar);
        add(bar, bar % 2 == 0 ? 1.5 : 2.5, Drum::kick, 0.75);
        ghost(bar, 1.75, 0.13);
        ghost(bar, 2.25, 0.16);
        if (bar % 2 == 1)
            ghost(bar, 3.75, 0.12);
    }
    void squall(int bar) {
        hats(bar, 4, Drum::ride);
        backbeat(bar);
        for (const double quarter : {0.75, 1.5, 2.25, 2.5, 3.5})
            add(bar, quarter, Drum::kick, 0.8);
        if (bar % 2 == 0)
            add(bar, 3.75, Drum::tomFloor, 0.8);
    }
    void harbour(int bar) {
        hats(bar, 4, Drum::ride);
        for (const double quarter : {0.0, 1.0, 2.0, 3.0})
            add(bar, quarter, Drum::tomFloor, 0.8);
        add(bar, 0, Drum::kick, 0.9);
        add(bar, 2.5, Drum::kick, 0.8);
        add(bar, 1.5, Drum::tomRack, 0.75);
        add(bar, 2, Drum::snare, 0.9);
        add(bar, 3.5, Drum::tomRack, 0.7);
    }
    void tripletFill() {
        constexpr std::array order{Drum::snare,   Drum::snare,    Drum::tomRack,  Drum::tomRack,
                                   Drum::tomRack, Drum::tomFloor, Drum::tomFloor, Drum::snare,
                                   Drum::tomRack, Drum::tomFloor, Drum::tomFloor, Drum::kick};
        for (std::size_t i = 0; i < order.size(); ++i)
            add(fillBar, static_cast<double>(i) / 3.0, order[i], 0.7 + 0.02 * static_cast<double>(i));
        add(fillBar, 0, Drum::kick, 0.9);
    }
};

std::vector<Note> theMusic() {
    Writer w;
    for (int quarter = 0; quarter < 4; ++quarter)
        w.add(countIn, quarter, Drum::sticks, 0.8);
    for (int bar = 2; bar <= 6; ++bar)
        w.boatOut(bar);
    for (int bar = 7; bar <= 10; ++bar)
        w.squall(bar);
    w.add(7, 0, Drum::crash, 0.9);
    w.hats(shortBar, 2, Drum::ride);
    w.add(shortBar, 0, Drum::kick, 0.9);
    w.add(shortBar, 1, Drum::snare, 0.9);
    w.tripletFill();
    for (int bar = 13; bar <= 17; ++bar)
        w.boatOut(bar);
    w.add(13, 0, Drum::crash, 0.9);
    for (int bar = 18; bar < lastBar; ++bar)
        w.harbour(bar);
    w.add(18, 0, Drum::crash, 0.8);
    w.add(lastBar, 0, Drum::kick, 1.0);
    w.add(lastBar, 0, Drum::crash, 0.9);
    w.add(lastBar, 2, Drum::snare, 0.85);
    return w.notes;
}

/// The rushed passage: the whole of bars 14 and 15 leans forward, up to 95 ms, and comes back.
double rush(const Note& note) {
    const double through = (note.bar - 14) * 4.0 + note.quarter;
    if (through < 0 || through >= 8)
        return 0;
    return -0.095 * std::clamp(std::min(through, 8.0 - through) / 2.0, 0.0, 1.0);
}

double lateness(const Note& note, double songQuarter, const Manner& manner, Random& random) {
    const double wander = manner.drift * std::sin(2 * 3.14159265358979 * songQuarter / manner.driftPeriod);
    const double jitter = (note.bar == fillBar ? manner.fillJitter : manner.jitter) * random.gaussian();
    return manner.lean + wander + std::clamp(jitter, -0.025, 0.025) + (manner.rushes ? rush(note) : 0.0);
}

/// Strokes meant together come within a few milliseconds of each other, so each place has one lateness and each
/// drum a little of its own.
std::vector<Stroke> play(const std::vector<Note>& notes, const MusicalMap& map, const Manner& manner, int rate) {
    std::vector<Note> ordered = notes;
    std::stable_sort(ordered.begin(), ordered.end(), [](const Note& a, const Note& b) {
        return std::pair(a.bar, a.quarter) < std::pair(b.bar, b.quarter);
    });
    Random random(manner.seed);
    std::vector<Stroke> strokes;
    const Note* last = nullptr;
    double shared = 0;
    for (const Note& note : ordered) {
        if (!last || last->bar != note.bar || last->quarter != note.quarter)
            shared = lateness(note, (note.bar - 1) * 4 + note.quarter, manner, random);
        last = &note;
        const double own = std::clamp(0.0018 * random.gaussian(), -0.004, 0.004);
        const auto line = map.at(note.bar, note.quarter / 4).frame;
        const double velocity = std::clamp(note.velocity * (1 + 0.06 * random.gaussian()), 0.05, 1.0);
        // The recorder was started before the first stroke of the count-in, however early that came.
        const auto sample = std::max<std::int64_t>(rate / 200, line + std::llround((shared + own) * rate));
        strokes.push_back({sample, note.drum, velocity, note.bar, 1 + note.quarter, note.ghost});
    }
    return strokes;
}

/// Bar 9 of take A: a snare stroke lost, a clash of sticks in its stead, the rest out of place.
void spoil(std::vector<Stroke>& strokes, int rate) {
    std::erase_if(strokes,
                  [](const Stroke& s) { return s.bar == spoiledBar && s.drum == Drum::snare && s.beat == 2; });
    Random random(99);
    std::vector<Stroke> clash;
    for (Stroke& stroke : strokes) {
        if (stroke.bar != spoiledBar)
            continue;
        stroke.sample += std::llround(0.018 * rate * random.gaussian());
        if (stroke.beat == 3 && stroke.drum == Drum::kick)
            clash.push_back({stroke.sample - rate * 6 / 10, Drum::sticks, 0.9, spoiledBar, 2});
    }
    strokes.insert(strokes.end(), clash.begin(), clash.end());
}

void addFlam(std::vector<Stroke>& strokes, int rate) {
    const auto main = std::find_if(strokes.begin(), strokes.end(), [](const Stroke& s) {
        return s.bar == flamBar && s.drum == Drum::snare && s.beat == 4;
    });
    Stroke grace = *main;
    grace.sample -= 32 * rate / 1000;
    grace.velocity = 0.35;
    strokes.push_back(grace);
}

} // namespace

Score lighthouseRelay(int rate) {
    Score score;
    score.map.tempos = {{1, {104}}};
    score.map.meters = {{1, {4, 4}}, {shortBar, {2, 4}}, {shortBar + 1, {4, 4}}};
    score.sections = {{"Count-in", 1, 1, {}, {}},  {"Boat out", 2, 5, {}, {}},
                      {"Squall", 7, 5, {}, {}},    {"Squall turn", fillBar, 1, NoteValue{1, 12}, {}},
                      {"Lamp lit", 13, 5, {}, {}}, {"Harbour", 18, 5, {}, {}}};
    const MusicalMap map(score.map, {rate});
    score.length = map.barStart(lastBar + 1).frame + rate;
    return score;
}

std::vector<Stroke> performance(const Score& score, char take, int rate) {
    const Manner manner = mannerOf(take);
    auto strokes = play(theMusic(), MusicalMap(score.map, {rate}), manner, rate);
    addFlam(strokes, rate);
    if (manner.spoils)
        spoil(strokes, rate);
    if (manner.weakStroke)
        for (Stroke& stroke : strokes)
            if (stroke.bar == 17 && stroke.drum == Drum::snare && stroke.beat == 4)
                stroke.velocity = 0.3;
    std::stable_sort(strokes.begin(), strokes.end(),
                     [](const auto& a, const auto& b) { return a.sample < b.sample; });
    return strokes;
}

std::vector<BassNote> bassLine(const Score& score, int rate) {
    constexpr std::array roots{41.20, 48.99, 55.00, 36.71}; // E1, G1, A1, D1 at A4 = 440 Hz
    const MusicalMap map(score.map, {rate});
    std::vector<BassNote> notes;
    for (int bar = 2; bar <= lastBar; ++bar)
        for (const double quarter : {0.0, 1.5, 2.0, 3.5})
            if (quarter / 4 < map.meterOf(bar).barInWholes())
                notes.push_back({map.at(bar, quarter / 4).frame,
                                 roots[static_cast<std::size_t>(bar / 2) % 4] * (quarter == 3.5 ? 1.5 : 1), 0.5});
    return notes;
}

} // namespace lampo::demo
