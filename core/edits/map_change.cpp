#include "edits/map_change.h"

#include "map/musical_map.h"

#include <algorithm>
#include <cmath>

namespace lampo {

void keepOnTheirLines(Session& session, const MapData& before) {
    if (before == session.map || session.rate.hz <= 0)
        return;
    const MusicalMap old(before, session.rate), now(session.map, session.rate);
    const auto moved = [&](SongFrame place) {
        const BarBeat at = old.barBeat(place);
        for (const double perBeat : {16.0, 12.0}) {
            const BarBeat line{at.bar, 1 + std::round((at.beat - 1) * perBeat) / perBeat};
            if (old.at(line) == place)
                return std::max(now.at(line), SongFrame{0});
        }
        return place;
    };
    const auto keepAscending = [](std::vector<Passage>& passages) {
        for (std::size_t p = 1; p < passages.size(); ++p)
            passages[p].begin = std::max(passages[p].begin, passages[p - 1].begin + FrameCount{1});
    };
    auto& passages = session.comp.passages;
    for (std::size_t p = 1; p < passages.size(); ++p)
        passages[p].begin = moved(passages[p].begin);
    keepAscending(passages);
    for (BorderFade& fade : session.comp.fades)
        fade.border = moved(fade.border);
    for (Try& kept : session.tries) {
        kept.range = {moved(kept.range.begin), moved(kept.range.end)};
        for (Passage& passage : kept.passages)
            passage.begin = moved(passage.begin);
        keepAscending(kept.passages);
        kept.range.end = std::max(kept.range.end, kept.passages.back().begin + FrameCount{1});
    }
}

} // namespace lampo
