#pragma once

#include <Qt>

#include <algorithm>
#include <numeric>
#include <optional>
#include <vector>

namespace lampo {

/// Hits or seams that are chosen, by their index.
template <class Index>
struct Chosen {
    std::vector<Index> all;       ///< ascending
    std::optional<Index> current; ///< that keys and panels speak of
    bool operator==(const Chosen&) const = default;

    /// What a click chooses: the one alone, with Shift all from the current one to it, with Control it as well or
    /// no longer. A plain click on one of several keeps them.
    Chosen clicked(Index one, Qt::KeyboardModifiers keys) const {
        if (keys & Qt::ShiftModifier && current) {
            const auto [first, last] = std::minmax(one, *current);
            std::vector<Index> run(last - first + 1);
            std::iota(run.begin(), run.end(), first);
            return {std::move(run), one};
        }
        const auto place = std::lower_bound(all.begin(), all.end(), one);
        const bool isChosen = place != all.end() && *place == one;
        Chosen next{all, one};
        if (keys & Qt::ControlModifier && isChosen) {
            next.all.erase(next.all.begin() + (place - all.begin()));
            next.current = next.all.empty() ? std::nullopt : std::optional(next.all.back());
        } else if (keys & Qt::ControlModifier) {
            next.all.insert(next.all.begin() + (place - all.begin()), one);
        } else if (!isChosen) {
            next.all = {one};
        }
        return next;
    }
};

} // namespace lampo
