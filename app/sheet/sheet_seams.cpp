#include "sheet/sheet_widget.h"

#include <algorithm>

namespace lampo {

void SheetWidget::chooseSeams(std::vector<SeamIndex> seams, std::optional<SeamIndex> current, bool revealIt) {
    std::sort(seams.begin(), seams.end());
    state_.seams = std::move(seams);
    state_.seam = current;
    chosenSeams_.remember(state_, {state_.seams, current});
    if (current && revealIt)
        showSeam(*current);
    redraw();
    emit seamsChosen(state_.seams);
}

void SheetWidget::findSeamsAgain() {
    auto again = chosenSeams_.findAgain(state_);
    const bool same = SeamSelection::Seams{state_.seams, state_.seam} == again;
    state_.seams = std::move(again.all);
    state_.seam = again.current;
    if (!same)
        emit seamsChosen(state_.seams);
}

void SheetWidget::stepSeam(int by) {
    const auto& seams = state_.outcome->plan->seams;
    if (seams.empty())
        return;
    const auto last = static_cast<std::ptrdiff_t>(seams.size()) - 1;
    const ResultFrame left = asResult(state_.axis.shown().begin);
    const auto visible =
        std::partition_point(seams.begin(), seams.end(), [&](const Seam& seam) { return seam.range.begin < left; });
    const std::ptrdiff_t next = state_.seam ? static_cast<std::ptrdiff_t>(state_.seam->value) + by
                                            : (visible - seams.begin()) + std::min(by, 0);
    const SeamIndex seam{static_cast<std::size_t>(std::clamp<std::ptrdiff_t>(next, 0, last))};
    chooseSeams({seam}, seam, true);
}

/// Where it is too narrow to be seen, the view comes nearer.
void SheetWidget::showSeam(SeamIndex index) {
    constexpr double seen = 24; // pixels
    const Seam& seam = state_.outcome->plan->seams[index];
    const double length = static_cast<double>(seam.range.length().frames);
    if (length < seen * state_.axis.framesPerPixel()) {
        const double half = length * state_.axis.width() / seen / 2;
        showRange(static_cast<double>(seam.range.begin.frame) - half,
                  static_cast<double>(seam.range.begin.frame) + half);
    }
    reveal(seam.range.begin);
}

} // namespace lampo
