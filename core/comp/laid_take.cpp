#include "comp/laid_take.h"

#include <algorithm>
#include <limits>

namespace lampo {

LaidTake layTake(const Session& session, const MusicalMap& map, const LayOrder& order, std::span<const Hit> hits,
                 std::span<const SongFrame> attacks) {
    const auto& [where, cover] = order;
    const auto sourceAt = [&](SongFrame place) { return place - order.where.shift; };
    const auto firstFrom = [&](SourceFrame from) {
        return std::partition_point(hits.begin(), hits.end(), [&](const Hit& hit) { return hit.anchor < from; });
    };
    const SourceFrame from = sourceAt(map.barStart(map.barAt(cover.begin) - 2));
    const SourceFrame to = sourceAt(map.barStart(map.barAt(cover.end) + 3));
    LaidTake laid{where, cover, {firstFrom(from), firstFrom(to)}, {}};
    laid.landings = land(session, map, where, laid.hits, attacks);
    return laid;
}

Range<SongFrame> coverOf(const Session& session, const Piece& piece) {
    const auto own = piece.take ? ownShift(session, *piece.take, piece.range.begin) : std::nullopt;
    if (!own || *own != piece.shift)
        return piece.range;
    const auto& form = session.form;
    const auto after = std::partition_point(form.begin(), form.end(),
                                            [&](const FormPart& part) { return part.begin <= piece.range.begin; });
    const SongFrame begin = after == form.begin() ? SongFrame{0} : std::prev(after)->begin;
    return {begin, after == form.end() ? SongFrame{0} + session.extent() : after->begin};
}

} // namespace lampo
