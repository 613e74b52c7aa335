#include "stops/map/changes_page.h"

#include "base/text.h"
#include "map/map_edits.h"
#include "map/place_text.h"
#include "stops/map/map_table.h"

#include <QPushButton>
#include <QSignalBlocker>
#include <QSpinBox>

#include <algorithm>
#include <set>

namespace lampo {
namespace {

enum ChangeColumn { barColumn, bpmColumn, rampColumn, meterColumn };

template <class Change>
const Change* changeAt(const std::vector<Change>& changes, BarBeat place) {
    const auto found =
        std::find_if(changes.begin(), changes.end(), [&](const Change& c) { return placeOf(c) == place; });
    return found == changes.end() ? nullptr : &*found;
}

} // namespace

ChangesPage::ChangesPage(Document& document, QWidget* parent) : Panel(document, {}, parent) {
    changes_ = addMapTable(column(), tr("Changes of tempo and meter"), QStringLiteral("Changes"),
                           {tr("Bar"), tr("BPM"), tr("Even to next"), tr("Meter")});
    changes_->setToolTip(tr("A tempo can change inside a bar too: 12.3 is the third beat of bar 12"));
    // Queued: the answer makes the cells anew, and one of them is still at work here.
    connect(changes_, &QTableWidget::cellChanged, this, &ChangesPage::changed, Qt::QueuedConnection);
    auto* row = new QHBoxLayout;
    auto* bar = new QSpinBox;
    bar->setObjectName(QStringLiteral("Change bar"));
    bar->setAccessibleName(tr("Bar of the change to add"));
    bar->setRange(2, limits::bars);
    bar->setPrefix(tr("bar "));
    bar->setButtonSymbols(QAbstractSpinBox::NoButtons);
    auto* more = new QPushButton(tr("Add a change"));
    more->setObjectName(QStringLiteral("Add change"));
    auto* fewer = new QPushButton(tr("Delete"));
    fewer->setObjectName(QStringLiteral("Delete change"));
    for (QWidget* widget : std::initializer_list<QWidget*>{bar, more, fewer})
        row->addWidget(widget);
    column()->addLayout(row);
    connect(more, &QPushButton::clicked, this, [this, bar] { add(bar->value()); });
    connect(fewer, &QPushButton::clicked, this, &ChangesPage::drop);
    onChange([this] {
        if (document_.session().map != shown_)
            show();
    });
    show();
}

void ChangesPage::show() {
    shown_ = document_.session().map;
    std::set<BarBeat> places;
    for (const auto& change : shown_.tempos)
        places.insert(placeOf(change));
    for (const auto& change : shown_.meters)
        places.insert(placeOf(change));
    places_.assign(places.begin(), places.end());
    const QSignalBlocker quiet(changes_);
    const int kept = changes_->currentRow();
    changes_->setRowCount(static_cast<int>(places_.size()));
    for (int row = 0; row < changes_->rowCount(); ++row)
        showRow(row);
    changes_->setCurrentCell(std::min(kept, changes_->rowCount() - 1), 0);
}

void ChangesPage::showRow(int row) {
    const BarBeat place = places_[static_cast<std::size_t>(row)];
    auto* number = new QTableWidgetItem(QString::fromStdString(placeText(place)));
    if (place == BarBeat{})
        number->setFlags(number->flags() & ~Qt::ItemIsEditable);
    changes_->setItem(row, barColumn, number);
    const TempoChange* tempo = changeAt(shown_.tempos, place);
    changes_->setItem(
        row, bpmColumn,
        new QTableWidgetItem(tempo ? QString::fromStdString(trimmedNumber(tempo->bpm.value, 3)) : QString()));
    auto* ramp = new QTableWidgetItem;
    ramp->setFlags(tempo ? Qt::ItemIsEnabled | Qt::ItemIsUserCheckable : Qt::NoItemFlags);
    if (tempo)
        ramp->setCheckState(tempo->ramp ? Qt::Checked : Qt::Unchecked);
    changes_->setItem(row, rampColumn, ramp);
    const MeterChange* meter = changeAt(shown_.meters, place);
    auto* cell = new QTableWidgetItem(meter ? QStringLiteral("%1/%2").arg(meter->meter.beats).arg(meter->meter.unit)
                                            : QString());
    if (place.beat != 1) // a meter changes at bar lines only
        cell->setFlags(cell->flags() & ~Qt::ItemIsEditable);
    changes_->setItem(row, meterColumn, cell);
}

/// What nobody typed anew is as exact as it was.
BarBeat ChangesPage::placeIn(int row) const {
    const BarBeat known = places_[static_cast<std::size_t>(row)];
    const std::string text = changes_->item(row, barColumn)->text().trimmed().toStdString();
    return text == placeText(known) ? known : barBeatIn(text).value_or(BarBeat{0, 1});
}

/// The whole table is the map: what one cell says is put together with the rest.
MapData ChangesPage::written() const {
    MapData map{shown_.origin, {}, {}};
    for (int row = 0; row < changes_->rowCount(); ++row) {
        const BarBeat place = placeIn(row);
        const TempoChange* known = changeAt(shown_.tempos, places_[static_cast<std::size_t>(row)]);
        const QString tempo = changes_->item(row, bpmColumn)->text().trimmed();
        const QStringList meter = changes_->item(row, meterColumn)->text().trimmed().split(QLatin1Char('/'));
        if (!tempo.isEmpty()) {
            const bool same = known && tempo.toStdString() == trimmedNumber(known->bpm.value, 3);
            const double typed = QString(tempo).replace(QLatin1Char(','), QLatin1Char('.')).toDouble();
            map.tempos.push_back({place.bar, same ? known->bpm : Bpm{typed},
                                  changes_->item(row, rampColumn)->checkState() == Qt::Checked, place.beat});
        }
        if (meter.size() == 2)
            map.meters.push_back({place.bar, {meter[0].toInt(), meter[1].toInt()}});
    }
    const auto byPlace = [](const auto& a, const auto& b) { return placeOf(a) < placeOf(b); };
    std::sort(map.tempos.begin(), map.tempos.end(), byPlace);
    std::sort(map.meters.begin(), map.meters.end(), byPlace);
    return map;
}

void ChangesPage::changed(int row, int) {
    if (row >= changes_->rowCount())
        return;
    document_.perform(SetMap{written(), "Map at bar " + changes_->item(row, barColumn)->text().toStdString()});
    show(); // what was refused is put back
}

void ChangesPage::add(int bar) {
    const MapData& map = document_.session().map;
    const MapData more = withTempoAt(map, document_.session().rate, bar);
    if (more == map)
        return emit notified(tr("Bar %1 has a tempo already: change it in the table").arg(bar));
    document_.perform(SetMap{more, "Change at bar " + std::to_string(bar)});
}

void ChangesPage::drop() {
    const int row = changes_->currentRow();
    const BarBeat place = row < 0 ? BarBeat{} : places_[static_cast<std::size_t>(row)];
    if (place == BarBeat{})
        return emit notified(tr("Bar 1 keeps its tempo and meter: choose another change to delete"));
    document_.perform(
        SetMap{withoutChange(document_.session().map, place), "Delete the change at bar " + placeText(place)});
}

} // namespace lampo
