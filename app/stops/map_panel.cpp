#include "stops/map_panel.h"

#include "base/text.h"

#include <QPushButton>

#include <algorithm>

namespace lampo {

const std::vector<NoteValue>& offeredGrids() {
    static const std::vector<NoteValue> grids{{1, 4},  {1, 8},  {1, 16}, {1, 32}, {1, 64}, {1, 6},
                                              {1, 12}, {1, 24}, {1, 48}, {3, 8},  {3, 16}, {3, 32},
                                              {1, 5},  {1, 10}, {1, 20}};
    return grids;
}

QStringList offeredGridNames() {
    QStringList names;
    for (const NoteValue grid : offeredGrids())
        names << QString::fromStdString(name(grid));
    return names;
}

int offeredGridIndex(NoteValue grid) {
    const auto& grids = offeredGrids();
    const auto found = std::find(grids.begin(), grids.end(), grid);
    return found == grids.end() ? -1 : static_cast<int>(found - grids.begin());
}

MapPanel::MapPanel(Document& document, QWidget* parent) : Panel(document, tr("Map"), parent) {
    auto* form = addForm();
    addNumber(
        form, {tr("Tempo"), tr("BPM"), slowestTempo.value, fastestTempo.value, 1, 2, 120},
        [this] { return document_.session().map.tempos.front().bpm.value; },
        [](double value) { return SetTempo{{value}}; });
    const auto meter = [this] { return document_.session().map.meters.front().meter; };
    addNumber(
        form, {tr("Beats in a bar"), QString(), 1, 32, 1, 0, 4}, [meter] { return meter().beats; },
        [meter](double value) {
            return SetMeter{{static_cast<int>(value), meter().unit}};
        });
    addChoice(
        form, tr("Beat"),
        {QStringLiteral("1/1"), QStringLiteral("1/2"), QStringLiteral("1/4"), QStringLiteral("1/8"),
         QStringLiteral("1/16")},
        [meter] { return static_cast<int>(std::countr_zero(static_cast<unsigned>(meter().unit))); },
        [meter](int index) {
            return SetMeter{{meter().beats, 1 << index}};
        });
    addNumber(
        form, {tr("Bar 1 lies at"), tr("ms"), -600000, 600000, 1, 2, 0},
        [this] { return toMilliseconds({document_.session().map.origin.frame}, document_.session().rate).value; },
        [this](double value) {
            return SetOrigin{SongFrame{} + toFrames(Milliseconds{value}, document_.session().rate)};
        });
    auto* fromHit = new QPushButton(tr("Bar 1 is the selected hit"));
    connect(fromHit, &QPushButton::clicked, this, &MapPanel::originFromSelection);
    column()->addWidget(fromHit);
    sections_ = addForm(tr("Sections and their grids"));
    onChange([this] { showSections(); });
    column()->addStretch(1);
    refresh();
}

void MapPanel::showSections() {
    const auto& sections = document_.session().sections;
    if (sections == shown_)
        return;
    shown_ = sections;
    while (sections_->rowCount() > 0)
        sections_->removeRow(0);
    for (std::size_t i = 0; i < sections.size(); ++i) {
        auto* box = new QComboBox;
        box->addItem(tr("as the song"));
        box->addItems(offeredGridNames());
        box->setCurrentIndex(sections[i].grid ? 1 + offeredGridIndex(*sections[i].grid) : 0);
        const QString title = QString::fromStdString(sections[i].name);
        box->setAccessibleName(tr("Grid of %1").arg(title));
        sections_->addRow(tr("%1, bar %2").arg(title).arg(sections[i].firstBar), box);
        connect(box, &QComboBox::activated, this, [this, i](int index) {
            document_.perform(SetSectionGrid{
                i, index == 0 ? std::nullopt : std::optional(offeredGrids()[static_cast<std::size_t>(index - 1)])});
        });
    }
}

QString MapPanel::state() const {
    const auto& map = document_.session().map;
    const Meter meter = map.meters.front().meter;
    QString text = tr("%1 BPM, %2/%3")
                       .arg(QString::fromStdString(trimmedNumber(map.tempos.front().bpm.value, 2)))
                       .arg(meter.beats)
                       .arg(meter.unit);
    return text;
}

} // namespace lampo
