#include "sheet/sheet_widget.h"

#include <utility>

namespace lampo {

void SheetWidget::levelTo(QPoint at) {
    const auto edit = level_.move(state_, at);
    if (!edit)
        return document_.dropGesture(level_.gesture());
    if (!*edit)
        return emit notified(QString::fromStdString(edit->error().sentence));
    document_.perform(**edit, level_.gesture());
}

void SheetWidget::setPlotsLevels(bool on) {
    if (std::exchange(state_.plotsLevels, on) == on)
        return;
    redraw();
    emit layoutChanged(); // the plot is called otherwise
}

void SheetWidget::setPlotsSample(std::optional<std::size_t> sample) {
    if (std::exchange(state_.plotsSample, sample) == sample)
        return;
    redraw();
    emit layoutChanged();
}

void SheetWidget::setRepairsOn(const PatchMics& mics) {
    state_.repairsOn = mics;
}

} // namespace lampo
