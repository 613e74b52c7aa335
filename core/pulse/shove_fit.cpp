#include "pulse/shove_fit.h"

#include "pulse/pattern.h"

#include <cmath>

namespace lampo {
namespace {

constexpr double blur = 0.06; // beats: how exactly hits are played
constexpr double stepBeats = 1.0 / 256;
constexpr double farCost = 0.02; // of a hit, for a whole beat: of places that fit alike the nearest

double beatsIn(const MusicalMap& map, SongFrame at) {
    return map.barBeat(at).beat - 1;
}

} // namespace

FrameCount bestShove(const MusicalMap& map, std::span<const PulseHit> passage, std::span<const PulseHit> rest) {
    if (passage.empty())
        return {};
    Pattern pattern(commonMeter(map, passage));
    for (const PulseHit& hit : rest)
        if (map.meterOf(map.barAt(hit.at)) == pattern.meter())
            pattern.learn(hit, beatsIn(map, hit.at));
    double best = 0, most = -1e12;
    for (double shove = -1; shove <= 1; shove += stepBeats) {
        double sum = 0;
        for (const PulseHit& hit : passage) {
            const double place = beatsIn(map, hit.at) + shove;
            const double away = (place - std::round(place * 4) / 4) / blur;
            sum += pattern.score(hit, place) + weightOf(hit) * (-0.5 * away * away - farCost * std::abs(shove));
        }
        if (sum > most) {
            most = sum;
            best = shove;
        }
    }
    const SongFrame first = passage.front().at;
    const BarBeat place = map.barBeat(first);
    return map.at(BarBeat{place.bar, place.beat + best}) - map.at(place);
}

} // namespace lampo
