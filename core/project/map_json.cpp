#include "project/map_json.h"

#include "base/limits.h"
#include "map/musical_map.h"
#include "project/json_fields.h"

#include <algorithm>
#include <fmt/core.h>
#include <string>
#include <vector>

namespace lampo {

using namespace jsonfields;
using nlohmann::json;

namespace {

template <class Change>
std::vector<Change> sortedFromBarOne(std::vector<Change> changes, const char* key) {
    const auto disorder = std::adjacent_find(changes.begin(), changes.end(),
                                             [](const auto& a, const auto& b) { return placeOf(a) >= placeOf(b); });
    if (changes.empty() || placeOf(changes.front()) != BarBeat{} || disorder != changes.end())
        throw Damage{fmt::format("\"{}\" does not go from bar 1 onwards", key)};
    return changes;
}

MeterChange readMeterChange(const json& j) {
    constexpr auto maxBeats = static_cast<std::int64_t>(limits::beats.high);
    const Meter meter{static_cast<int>(whole(j, "beats", 1, maxBeats)), static_cast<int>(whole(j, "unit", 1, 32))};
    if ((meter.unit & (meter.unit - 1)) != 0)
        throw Damage{"\"unit\" is not a power of two"};
    return {static_cast<int>(whole(j, "bar", 1, limits::bars)), meter};
}

TempoChange readTempoChange(const json& j) {
    return {static_cast<int>(whole(j, "bar", 1, limits::bars)),
            {number(j, "bpm", limits::tempo)},
            j.contains("ramp") && truth(j, "ramp"),
            j.contains("beat") ? number(j, "beat", 1, limits::beats.high + 1) : 1};
}

} // namespace

json mapJson(const MapData& map) {
    json meters = json::array();
    for (const auto& change : map.meters)
        meters.push_back({{"bar", change.bar}, {"beats", change.meter.beats}, {"unit", change.meter.unit}});
    json tempos = json::array();
    for (const auto& change : map.tempos) {
        json tempo{{"bar", change.bar}, {"bpm", change.bpm.value}};
        if (change.beat != 1)
            tempo["beat"] = change.beat;
        if (change.ramp)
            tempo["ramp"] = true;
        tempos.push_back(std::move(tempo));
    }
    return {{"origin", map.origin.frame}, {"meters", meters}, {"tempos", tempos}};
}

MapData readMap(const json& j) {
    MapData map;
    map.origin = SongFrame{whole(j, "origin", -limits::frames, limits::frames)};
    map.meters = sortedFromBarOne(list(j, "meters", readMeterChange), "meters");
    map.tempos = sortedFromBarOne(list(j, "tempos", readTempoChange), "tempos");
    return map;
}

} // namespace lampo
