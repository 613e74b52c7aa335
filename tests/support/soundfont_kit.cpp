#include "support/soundfont_kit.h"

#include "support/soundfont_hits.h"

#include <algorithm>
#include <cmath>
#include <random>

namespace lampo::test {
namespace {

enum Drum { kick, snare, rack, floorTom, hat, crash, drums };
const std::vector<int> keys{36, 38, 48, 43, 42, 49}; // General MIDI Level 1 percussion key map
const std::vector<int> velocities{22, 34, 60, 90, 110, 127};

struct Place {
    double x, y, z; // metres
};
constexpr Place drumAt[drums] = {{0, 0, 0.3},       {0.45, -0.45, 0.7}, {0.2, 0.1, 0.9},
                                 {-0.6, -0.4, 0.6}, {0.8, -0.3, 1.0},   {0.7, 0.4, 1.4}};
constexpr Place micAt[] = {{0.0, 0.25, 0.3},    {0.5, -0.3, 0.8}, {0.25, 0.2, 1.0},
                           {-0.65, -0.25, 0.7}, {0.6, 0.0, 2.0},  {-0.6, 0.0, 2.0}};
constexpr std::size_t closeMics = 4;

double distance(const Place& a, const Place& b) {
    return std::hypot(a.x - b.x, a.y - b.y, a.z - b.z);
}

struct Stroke {
    std::int64_t at;
    Drum drum;
    std::size_t velocity;
    bool buried = false;
};

/// Strokes by bar: what is played is written in sixteenths or thirty-seconds.
class Writer {
public:
    Writer(double bpm, int rate, unsigned seed) : beat_(60.0 / bpm * rate), rate_(rate), random_(seed) {}

    void strike(int bar, double beats, Drum drum, std::size_t velocity, bool buried = false) {
        const double late = std::clamp(std::normal_distribution<>(0, 0.003)(random_), -0.008, 0.008) * rate_;
        strokes.push_back({std::llround((bar * 4 + beats) * beat_ + late + 0.5 * rate_), drum, velocity});
        strokes.back().buried = buried;
    }

    void bar(int number) {
        for (int eighth = 0; eighth < 8; ++eighth)
            strike(number, eighth * 0.5, hat, eighth % 2 == 0 ? 3 : 2);
        if (number % 4 == 0)
            strike(number, 0, crash, 4);
        switch (number % 4) {
        case 0: // back beat with ghost notes
            for (const double at : {0.0, 2.0, 2.5})
                strike(number, at, kick, 4);
            for (const double at : {1.0, 3.0})
                strike(number, at, snare, 5);
            for (const double at : {0.75, 1.75, 2.25, 3.75})
                strike(number, at, snare, at < 2 ? 0 : 1);
            break;
        case 1: // sixteenth kicks under the back beat
            for (int sixteenth = 0; sixteenth < 16; ++sixteenth)
                strike(number, sixteenth * 0.25, kick, sixteenth % 2 == 0 ? 4 : 3);
            for (const double at : {1.0, 3.0})
                strike(number, at, snare, 5);
            break;
        case 2: // a roll of thirty-seconds
            for (const double at : {0.0, 1.5})
                strike(number, at, kick, 5);
            strike(number, 1, snare, 5);
            for (int step = 0; step * roll() < 1.999; ++step)
                strike(number, 2 + step * roll(), snare, step % 2 == 0 ? 3 : 2, step % 2 == 1);
            break;
        default: // a fill
            strike(number, 0, kick, 4);
            for (int sixteenth = 2; sixteenth < 16; ++sixteenth)
                strike(number, sixteenth * 0.25,
                       sixteenth < 6    ? snare
                       : sixteenth < 11 ? rack
                                        : floorTom,
                       static_cast<std::size_t>(3 + sixteenth % 3));
        }
    }

    std::vector<Stroke> strokes;

private:
    /// Beats: thirty-seconds, or sixteenth triplets where those were faster than hands are (18 strokes a second).
    double roll() const { return beat_ * 0.125 / rate_ > 0.05 ? 0.125 : 1.0 / 6; }

    double beat_;
    int rate_;
    std::mt19937 random_;
};

void add(std::vector<float>& mic, const std::vector<float>& sound, std::int64_t at, float gain) {
    const auto room = static_cast<std::int64_t>(mic.size()) - at;
    const auto count = std::min(room, static_cast<std::int64_t>(sound.size()));
    for (std::int64_t i = 0; i < count; ++i)
        mic[static_cast<std::size_t>(at + i)] += gain * sound[static_cast<std::size_t>(i)];
}

} // namespace

SoundfontKit soundfontKit(double bpm, int bars, unsigned seed) {
    SoundfontKit kit;
    const auto sounds = soundfontHits(keys, velocities, kit.rate); // from −40 dB of each stroke's own peak on
    if (sounds.empty())
        return kit;
    kit.stems = {"kick", "snare", "tom 1", "floor tom", "oh l", "oh r"};
    Writer writer(bpm, kit.rate, seed);
    for (int bar = 0; bar < bars; ++bar)
        writer.bar(bar);
    const auto length = static_cast<std::size_t>((bars * 4 * 60.0 / bpm + 2) * kit.rate);
    kit.mics.assign(std::size(micAt), std::vector<float>(length));
    for (const Stroke& stroke : writer.strokes) {
        for (std::size_t mic = 0; mic < kit.mics.size(); ++mic) {
            const bool own = mic == static_cast<std::size_t>(stroke.drum);
            const double away = distance(drumAt[stroke.drum], micAt[mic]);
            constexpr double ownAway = 0.25; // what 0 dB stands for
            const double gain = own ? 1.0 : ownAway / away * (mic < closeMics ? 0.5 : 1.0);
            const auto travel = own ? 0 : std::llround(away / 343 * kit.rate);
            add(kit.mics[mic], sounds[stroke.drum][stroke.velocity], stroke.at + travel, static_cast<float>(gain));
        }
        if (stroke.drum < static_cast<int>(closeMics))
            kit.truth[kit.stems[stroke.drum]].push_back(stroke.at);
        if (stroke.drum == snare && stroke.velocity < 2)
            kit.ghosts.push_back(stroke.at);
        if (stroke.buried)
            kit.buried.push_back(stroke.at);
    }
    for (auto& [stem, strokes] : kit.truth)
        std::sort(strokes.begin(), strokes.end());
    std::mt19937 random(seed + 1);
    std::uniform_real_distribution<float> noise(-0.000218F, 0.000218F); // −78 dBFS
    float loudest = 0;
    for (const auto& mic : kit.mics)
        for (const float sample : mic)
            loudest = std::max(loudest, std::abs(sample));
    for (auto& mic : kit.mics)
        for (float& sample : mic)
            sample = sample * 0.8F / loudest + noise(random);
    return kit;
}

} // namespace lampo::test
