#include "map/map_edits.h"

#include <algorithm>

namespace lampo {
namespace {

constexpr auto byPlace = [](const auto& a, const auto& b) { return placeOf(a) < placeOf(b); };

template <class Change>
void move(std::vector<Change>& changes, BarBeat from, int to) {
    const auto found =
        std::find_if(changes.begin(), changes.end(), [&](const Change& change) { return placeOf(change) == from; });
    if (found == changes.end())
        return;
    Change moved = *found;
    putAtBarLine(moved, to);
    std::erase_if(changes, [&](const Change& change) {
        return placeOf(change) == from || placeOf(change) == BarBeat{to, 1};
    });
    changes.push_back(moved);
    std::sort(changes.begin(), changes.end(), byPlace);
}

} // namespace

MapData withTempoAt(MapData map, SampleRate rate, int bar) {
    const auto after = std::find_if(map.tempos.begin(), map.tempos.end(), [&](const TempoChange& change) {
        return placeOf(change) >= BarBeat{bar, 1};
    });
    if (bar <= 1 || (after != map.tempos.end() && placeOf(*after) == BarBeat{bar, 1}))
        return map;
    const TempoChange added{bar, MusicalMap(map, rate).tempoOf(bar), std::prev(after)->ramp};
    map.tempos.insert(after, added);
    return map;
}

MapData withChangeMoved(MapData map, BarBeat from, int to) {
    if (from <= BarBeat{} || to <= 1 || from == BarBeat{to, 1})
        return map;
    move(map.tempos, from, to);
    move(map.meters, from, to);
    return map;
}

MapData withoutChange(MapData map, BarBeat place) {
    if (place <= BarBeat{})
        return map;
    const auto there = [&](const auto& change) { return placeOf(change) == place; };
    std::erase_if(map.tempos, there);
    std::erase_if(map.meters, there);
    return map;
}

} // namespace lampo
