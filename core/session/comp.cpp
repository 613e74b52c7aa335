#include "session/comp.h"

#include <algorithm>
#include <limits>

namespace lampo {
namespace {

/// The part of an ascending list that rules at a place.
template <class Part>
std::size_t ruling(const std::vector<Part>& parts, SongFrame place) {
    const auto after =
        std::upper_bound(parts.begin(), parts.end(), place, [](SongFrame p, const Part& x) { return p < x.begin; });
    return after == parts.begin() ? 0 : static_cast<std::size_t>(after - parts.begin()) - 1;
}

bool continues(const Passage& earlier, const Passage& later) {
    return earlier.sameSound(later);
}
bool continues(const FormPart& earlier, const FormPart& later) {
    return earlier.moved == later.moved;
}

template <class Part>
void joinAlike(std::vector<Part>& parts) {
    std::vector<Part> joined;
    for (const Part& part : parts) {
        if (!joined.empty() && joined.back().begin == part.begin)
            joined.pop_back();
        if (joined.empty() || !continues(joined.back(), part))
            joined.push_back(part);
    }
    parts = std::move(joined);
}

template <class Part>
std::vector<Part> partsInside(const std::vector<Part>& parts, Range<SongFrame> range) {
    std::vector<Part> inside;
    for (std::size_t i = ruling(parts, range.begin); i < parts.size() && parts[i].begin < range.end; ++i) {
        inside.push_back(parts[i]);
        inside.back().begin = std::max(parts[i].begin, range.begin);
    }
    return inside;
}

void shift(Passage& passage, FrameCount by) {
    passage.begin = passage.begin + by;
    if (passage.graft)
        passage.graft = *passage.graft + by;
}
void shift(FormPart& part, FrameCount by) {
    part.begin = part.begin + by;
    if (part.moved)
        part.moved = *part.moved + by;
}

constexpr SongFrame farthest{std::numeric_limits<std::int64_t>::max()};

template <class Part>
std::vector<Part> opened(const std::vector<Part>& parts, SongFrame at, FrameCount length,
                         std::vector<Part> between) {
    auto all = partsInside(parts, {SongFrame{0}, at});
    all.insert(all.end(), between.begin(), between.end());
    for (Part part : partsInside(parts, {at, farthest})) {
        shift(part, length);
        all.push_back(part);
    }
    joinAlike(all);
    return all;
}

template <class Part>
std::vector<Part> closed(const std::vector<Part>& parts, Range<SongFrame> cut) {
    auto all = partsInside(parts, {SongFrame{0}, cut.begin});
    for (Part part : partsInside(parts, {cut.end, farthest})) {
        shift(part, cut.begin - cut.end);
        all.push_back(part);
    }
    joinAlike(all);
    return all;
}

template <class Part>
std::vector<Part> onceMore(const std::vector<Part>& parts, SongFrame at, FrameCount length) {
    auto copies = partsInside(parts, {at - length, at});
    for (Part& part : copies)
        shift(part, length);
    return copies;
}

} // namespace

std::size_t Comp::at(SongFrame place) const {
    return ruling(passages, place);
}

std::optional<Milliseconds> Comp::fadeAt(SongFrame border) const {
    const auto found = std::find_if(fades.begin(), fades.end(), [&](const auto& f) { return f.border == border; });
    return found == fades.end() ? std::nullopt : std::optional(found->fade);
}

std::vector<Passage> Comp::inside(Range<SongFrame> range) const {
    return partsInside(passages, range);
}

Comp laid(const Comp& comp, Range<SongFrame> range, std::vector<Passage> passages, SongFrame end) {
    auto all = partsInside(comp.passages, {SongFrame{0}, range.begin});
    all.insert(all.end(), passages.begin(), passages.end());
    if (range.end < end) {
        const auto rest = partsInside(comp.passages, {range.end, farthest});
        all.insert(all.end(), rest.begin(), rest.end());
    }
    joinAlike(all);
    return {std::move(all), comp.fades};
}

Comp laid(const Comp& comp, Range<SongFrame> range, std::optional<TakeIndex> take, std::optional<FrameCount> graft,
          SongFrame end) {
    return laid(comp, range, {Passage{range.begin, take, graft}}, end);
}

std::optional<FrameCount> movedAt(const Form& form, SongFrame place) {
    return form[ruling(form, place)].moved;
}

std::optional<SongFrame> songPlace(const Form& form, SongFrame recorded) {
    for (std::size_t i = 0; i < form.size(); ++i) {
        if (!form[i].moved)
            continue;
        const SongFrame place = recorded + *form[i].moved;
        const bool begun = i == 0 || form[i].begin <= place;
        if (begun && (i + 1 == form.size() || place < form[i + 1].begin))
            return place;
    }
    return std::nullopt;
}

Form lengthened(const Form& form, SongFrame at, FrameCount length, bool repeat) {
    return opened(form, at, length, repeat ? onceMore(form, at, length) : std::vector{FormPart{at, std::nullopt}});
}

Form shortened(const Form& form, Range<SongFrame> cut) {
    return closed(form, cut);
}

Comp lengthened(const Comp& comp, SongFrame at, FrameCount length, bool repeat) {
    Comp next{opened(comp.passages, at, length,
                     repeat ? onceMore(comp.passages, at, length) : std::vector{Passage{at, std::nullopt, {}}}),
              comp.fades};
    for (BorderFade& fade : next.fades)
        if (fade.border >= at)
            fade.border = fade.border + length;
    return next;
}

Comp shortened(const Comp& comp, Range<SongFrame> cut) {
    Comp next{closed(comp.passages, cut), comp.fades};
    std::erase_if(next.fades, [&](const auto& fade) { return cut.contains(fade.border); });
    for (BorderFade& fade : next.fades)
        if (fade.border >= cut.end)
            fade.border = fade.border - cut.length();
    return next;
}

} // namespace lampo
