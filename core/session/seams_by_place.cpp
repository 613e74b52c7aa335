#include "session/seams_by_place.h"

#include <algorithm>

namespace lampo {

SeamsByPlace::SeamsByPlace(const Session& session) : song_(session.seams) {
    std::optional<MusicalMap> map;
    for (const Section& section : session.sections) {
        if (!section.leadIn && !section.fill)
            continue;
        if (!map)
            map.emplace(session.map, session.rate);
        (section.beats ? beats_ : bars_).push_back({rangeOf(section, *map), session.seamsIn(section)});
    }
}

const SeamSettings* SeamsByPlace::in(const std::vector<Part>& parts, SongFrame place) {
    const auto part =
        std::partition_point(parts.begin(), parts.end(), [&](const Part& one) { return one.range.end <= place; });
    return part != parts.end() && part->range.contains(place) ? &part->settings : nullptr;
}

const SeamSettings& SeamsByPlace::at(SongFrame place) const {
    if (const SeamSettings* beats = in(beats_, place))
        return *beats;
    const SeamSettings* bars = in(bars_, place);
    return bars ? *bars : song_;
}

} // namespace lampo
