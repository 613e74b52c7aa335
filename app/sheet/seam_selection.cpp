#include "sheet/seam_selection.h"

#include <algorithm>

namespace lampo {
namespace {

std::optional<SeamIndex> again(const std::vector<Seam>& seams, const Seam& was) {
    const auto found = std::find_if(seams.begin(), seams.end(), [&](const Seam& seam) {
        return was.between ? seam.between == was.between : seam.range.begin == was.range.begin;
    });
    return found == seams.end() ? std::nullopt
                                : std::optional(SeamIndex{static_cast<std::size_t>(found - seams.begin())});
}

} // namespace

void SeamSelection::remember(const SheetState& state, const Seams& seams) {
    const auto& plan = state.outcome->plan->seams;
    all_.clear();
    for (const SeamIndex seam : seams.all)
        all_.push_back(plan[seam]);
    current_ = seams.current ? std::optional(plan[*seams.current]) : std::nullopt;
}

SeamSelection::Seams SeamSelection::findAgain(const SheetState& state) const {
    Seams found;
    for (const Seam& seam : all_)
        if (const auto index = again(state.outcome->plan->seams, seam))
            found.all.push_back(*index);
    std::sort(found.all.begin(), found.all.end());
    if (current_)
        found.current = again(state.outcome->plan->seams, *current_);
    if (!found.current && !found.all.empty())
        found.current = found.all.front();
    return found;
}

} // namespace lampo
