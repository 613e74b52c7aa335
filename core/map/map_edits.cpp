#include "map/map_edits.h"

#include <algorithm>

namespace lampo {
namespace {

constexpr auto byBar = [](const auto& a, const auto& b) { return a.bar < b.bar; };

template <class Change>
void move(std::vector<Change>& changes, int from, int to) {
    const auto found =
        std::find_if(changes.begin(), changes.end(), [&](const Change& change) { return change.bar == from; });
    if (found == changes.end())
        return;
    Change moved = *found;
    moved.bar = to;
    std::erase_if(changes, [&](const Change& change) { return change.bar == from || change.bar == to; });
    changes.push_back(moved);
    std::sort(changes.begin(), changes.end(), byBar);
}

} // namespace

MapData withTempoAt(MapData map, SampleRate rate, int bar) {
    const auto after = std::find_if(map.tempos.begin(), map.tempos.end(),
                                    [&](const TempoChange& change) { return change.bar >= bar; });
    if (bar <= 1 || (after != map.tempos.end() && after->bar == bar))
        return map;
    const TempoChange added{bar, MusicalMap(map, rate).tempoOf(bar), std::prev(after)->ramp};
    map.tempos.insert(after, added);
    return map;
}

MapData withChangeMoved(MapData map, int from, int to) {
    if (from <= 1 || to <= 1 || from == to)
        return map;
    move(map.tempos, from, to);
    move(map.meters, from, to);
    return map;
}

MapData withoutChange(MapData map, int bar) {
    if (bar <= 1)
        return map;
    std::erase_if(map.tempos, [&](const TempoChange& change) { return change.bar == bar; });
    std::erase_if(map.meters, [&](const MeterChange& change) { return change.bar == bar; });
    return map;
}

} // namespace lampo
