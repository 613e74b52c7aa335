#include "stops/timing_panel.h"

#include "look/ink.h"
#include "stops/map_panel.h"
#include "timing/tightness.h"

#include <QGridLayout>

#include <array>

namespace lampo {

TimingPanel::TimingPanel(Document& document, QWidget* parent) : Panel(document, tr("Timing"), parent) {
    auto* form = addForm();
    addChoice(
        form, tr("Grid"), offeredGridNames(), [this] { return offeredGridIndex(document_.session().timing.grid); },
        [](int index) { return SetGrid{offeredGrids()[static_cast<std::size_t>(index)]}; });
    addNumber(
        form, {tr("Strength"), tr("%"), 0, 100, 1, 0, 100}, [this] { return document_.session().timing.strength; },
        [](double value) { return SetStrength{value}; }, true);
    addFigures();
    addNote(tr("Take a hit in the ladder or in the early/late plot to move it by hand; Ctrl keeps it from sticking "
               "to its line."));
    column()->addStretch(1);
    refresh();
}

void TimingPanel::addFigures() {
    auto* grid = new QGridLayout;
    grid->setVerticalSpacing(2);
    column()->addLayout(grid);
    const auto put = [&](int row, int columnIndex, const QString& text, bool bold = false) {
        auto* label = new QLabel(text);
        label->setFont(textFont(0.95, bold));
        label->setAlignment(columnIndex == 0 ? Qt::AlignLeft : Qt::AlignRight);
        grid->addWidget(label, row, columnIndex);
        return label;
    };
    put(0, 1, tr("played"), true);
    put(0, 2, tr("landed"), true);
    const std::array titles{tr("Mean"), tr("Spread"), tr("Worst"), tr("Within 5 ms")};
    std::array<std::array<QLabel*, 2>, 4> cells{};
    for (int row = 0; row < 4; ++row) {
        put(row + 1, 0, titles[static_cast<std::size_t>(row)]);
        for (int moment = 0; moment < 2; ++moment)
            cells[static_cast<std::size_t>(row)][static_cast<std::size_t>(moment)] = put(row + 1, moment + 1, {});
    }
    onChange([this, cells] {
        for (const std::size_t moment : {std::size_t{0}, std::size_t{1}}) {
            const Tightness t =
                tightness(document_.outcome().landings, static_cast<Moment>(moment), document_.session().rate);
            cells[0][moment]->setText(tr("%1 ms").arg(number(t.mean.value, 1)));
            cells[1][moment]->setText(tr("%1 ms").arg(number(t.spread.value, 1)));
            cells[2][moment]->setText(tr("%1 ms").arg(number(t.worst.value, 1)));
            cells[3][moment]->setText(tr("%1 %").arg(number(100 * t.withinFive, 0)));
        }
    });
}

QString TimingPanel::state() const {
    const auto& timing = document_.session().timing;
    return tr("%1 at %2 %").arg(QString::fromStdString(name(timing.grid)), number(timing.strength, 0));
}

} // namespace lampo
