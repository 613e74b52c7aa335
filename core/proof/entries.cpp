#include "proof/entries.h"

#include "base/text.h"

#include <algorithm>
#include <fmt/core.h>
#include <numeric>

namespace lampo {
namespace {

constexpr Seconds near{2}; ///< places nearer than this are one entry; common practice, no source

std::string whereIn(const MusicalMap& map, Range<ResultFrame> where) {
    const BarBeat first = map.barBeat(asSong(where.begin)), last = map.barBeat(asSong(where.end - FrameCount{1}));
    return first.bar == last.bar ? fmt::format("Bar {}, beat {}", first.bar, trimmedNumber(first.beat, 2))
                                 : fmt::format("Bars {} to {}", first.bar, last.bar);
}

std::string textOf(std::span<const ProofPlace> places, const ProofEntry& entry, const MusicalMap& map) {
    const auto worst =
        std::max_element(entry.places.begin(), entry.places.end(),
                         [&](std::size_t a, std::size_t b) { return places[a].size < places[b].size; });
    const std::string& text = places[*worst].text;
    const std::string where = whereIn(map, entry.where);
    if (entry.places.size() == 1)
        return fmt::format("{}: {}", where, text);
    return fmt::format("{}: {} places, {}. The worst: {}", where, entry.places.size(), name(entry.kind), text);
}

} // namespace

std::vector<ProofEntry> entriesOf(std::span<const ProofPlace> places, const MusicalMap& map) {
    std::vector<std::size_t> order(places.size());
    std::iota(order.begin(), order.end(), 0);
    std::stable_sort(order.begin(), order.end(),
                     [&](std::size_t a, std::size_t b) { return places[a].where.begin < places[b].where.begin; });
    const FrameCount reach = toFrames(near, map.rate());
    std::vector<ProofEntry> entries;
    for (const std::size_t index : order) {
        const ProofPlace& place = places[index];
        // The last entry of the same kind and answer.
        const auto last = std::find_if(entries.rbegin(), entries.rend(), [&](const ProofEntry& entry) {
            return entry.kind == place.kind && entry.state == place.state;
        });
        if (last != entries.rend() && place.where.begin < last->where.end + reach) {
            last->places.push_back(index);
            last->where.end = std::max(last->where.end, place.where.end);
            last->gravity = std::max(last->gravity, place.gravity());
        } else {
            entries.push_back({{index}, place.where, place.kind, place.state, place.gravity(), {}});
        }
    }
    for (ProofEntry& entry : entries)
        entry.text = textOf(places, entry, map);
    std::stable_sort(entries.begin(), entries.end(),
                     [](const ProofEntry& a, const ProofEntry& b) { return a.gravity > b.gravity; });
    return entries;
}

} // namespace lampo
