#include "sheet/hit_selection.h"

#include <algorithm>

namespace lampo {

void HitSelection::remember(const SheetState& state, const Hits& hits) {
    const auto chosenAt = [&](HitIndex hit) {
        const SongHit& found = state.outcome->hits[hit];
        return Kept{placeOf(*state.session, found), found.shift};
    };
    all_.clear();
    std::transform(hits.all.begin(), hits.all.end(), std::back_inserter(all_), chosenAt);
    current_ = hits.current ? std::optional(chosenAt(*hits.current)) : std::nullopt;
}

void HitSelection::await(const TakePlace& place, SourceToSong shift) {
    all_ = {{place, shift}};
    current_ = all_.front();
}

HitSelection::Hits HitSelection::findAgain(const SheetState& state) const {
    Hits again;
    if (all_.empty())
        return again;
    struct Place {
        TakeLetter take;
        SourceFrame found;
        HitIndex hit;
        auto operator<=>(const Place&) const = default;
    };
    const auto& hits = state.outcome->hits;
    std::vector<Place> places(hits.size());
    for (HitIndex hit; hit < hits.size(); ++hit)
        places[hit] = {state.session->takes[hits[hit].take].letter, hits[hit].found(), hit};
    std::sort(places.begin(), places.end());
    const FrameCount tolerance = correctionTolerance(state.session->rate);
    const auto indexOf = [&](const Kept& chosen) -> std::optional<HitIndex> {
        const auto& [take, at] = chosen.place;
        const auto first = std::lower_bound(places.begin(), places.end(), Place{take, at - tolerance, {}});
        const auto last = std::lower_bound(first, places.end(), Place{take, at + tolerance + FrameCount{1}, {}});
        const auto away = [&](const Place& place) {
            return std::pair{abs(hits[place.hit].shift - chosen.shift), abs(place.found - chosen.place.at)};
        };
        const auto nearest =
            std::min_element(first, last, [&](const Place& a, const Place& b) { return away(a) < away(b); });
        return nearest == last ? std::nullopt : std::optional(nearest->hit);
    };
    for (const Kept& at : all_)
        if (const auto hit = indexOf(at))
            again.all.push_back(*hit);
    again.current = current_ ? indexOf(*current_) : std::nullopt;
    if (!again.current && !again.all.empty())
        again.current = again.all.back();
    std::sort(again.all.begin(), again.all.end());
    again.all.erase(std::unique(again.all.begin(), again.all.end()), again.all.end());
    return again;
}

} // namespace lampo
