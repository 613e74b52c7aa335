#include "stops/map_panel.h"

#include "base/text.h"
#include "base/whole_file.h"
#include "look/ink.h"
#include "map/map_edits.h"
#include "midi/tempo_map.h"
#include "stops/map_check_page.h"

#include <QFileDialog>
#include <QHeaderView>
#include <QPushButton>
#include <QSignalBlocker>
#include <QSpinBox>
#include <QTableWidget>

#include <algorithm>
#include <set>

namespace lampo {
namespace {

enum ChangeColumn { barColumn, bpmColumn, rampColumn, meterColumn };
enum SectionColumn { nameColumn, firstColumn, barsColumn, gridColumn };

QString midiFiles() {
    return QObject::tr("Standard MIDI Files (*.mid *.midi)");
}

void prepare(QTableWidget& table) {
    table.setFont(textFont(0.9));
    table.setShowGrid(false);
    table.verticalHeader()->hide();
    table.verticalHeader()->setDefaultSectionSize(QFontMetrics(textFont(0.9)).height() + 8);
    table.horizontalHeader()->setFont(textFont(0.8));
    table.horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    table.setSelectionBehavior(QAbstractItemView::SelectRows);
    table.setSelectionMode(QAbstractItemView::SingleSelection);
    table.setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
}

QString beginInWords(const Section& section) {
    return section.beats ? QStringLiteral("%1.%2").arg(section.firstBar).arg(section.beats->first)
                         : QString::number(section.firstBar);
}

QString lengthInWords(const Section& section) {
    return section.beats ? (section.beats->count == 1 ? QObject::tr("1 beat")
                                                      : QObject::tr("%1 beats").arg(section.beats->count))
                         : QString::number(section.bars);
}

} // namespace

const std::vector<NoteValue>& offeredGrids() {
    static const std::vector<NoteValue> grids{{1, 4},  {1, 8}, {1, 16}, {1, 32}, {1, 64}, {1, 6},  {1, 12}, {1, 24},
                                              {1, 48}, {3, 8}, {3, 16}, {3, 32}, {1, 5},  {1, 10}, {1, 20}};
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
    check_ = new MapCheckPage(document);
    column()->addWidget(check_);
    connect(check_, &MapCheckPage::troubled, this, &MapPanel::troubled);
    addChanges();
    addSections();
    onChange([this] {
        showChanges();
        showSections();
    });
    refresh();
}

QTableWidget* MapPanel::addTable(const QString& title, const QStringList& heads, int stretch) {
    auto* heading = new QLabel(title);
    heading->setFont(textFont(1.0, true));
    column()->addWidget(heading);
    auto* table = new QTableWidget(0, static_cast<int>(heads.size()));
    table->setAccessibleName(title);
    table->setHorizontalHeaderLabels(heads);
    prepare(*table);
    table->setMinimumHeight(QFontMetrics(textFont()).height() * 5);
    table->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Ignored);
    column()->addWidget(table, stretch);
    return table;
}

void MapPanel::addChanges() {
    changes_ =
        addTable(tr("Changes of tempo and meter"), {tr("Bar"), tr("BPM"), tr("Even to next"), tr("Meter")}, 2);
    changes_->setObjectName(QStringLiteral("Changes"));
    // Queued: the answer makes the cells anew, and one of them is still at work here.
    connect(changes_, &QTableWidget::cellChanged, this, &MapPanel::changed, Qt::QueuedConnection);
    auto* row = new QHBoxLayout;
    auto* bar = new QSpinBox;
    bar->setObjectName(QStringLiteral("Change bar"));
    bar->setAccessibleName(tr("Bar of the change to add"));
    bar->setRange(2, 100000);
    bar->setPrefix(tr("bar "));
    bar->setButtonSymbols(QAbstractSpinBox::NoButtons);
    auto* add = new QPushButton(tr("Add a change"));
    add->setObjectName(QStringLiteral("Add change"));
    auto* drop = new QPushButton(tr("Drop it"));
    drop->setObjectName(QStringLiteral("Drop change"));
    for (QWidget* widget : std::initializer_list<QWidget*>{bar, add, drop})
        row->addWidget(widget);
    column()->addLayout(row);
    connect(add, &QPushButton::clicked, this, [this, bar] { addChange(bar->value()); });
    connect(drop, &QPushButton::clicked, this, &MapPanel::dropChange);
}

void MapPanel::chooseImport() {
    if (const QString file = QFileDialog::getOpenFileName(this, tr("Tempo and meter from"), {}, midiFiles());
        !file.isEmpty())
        importMap(file);
}

void MapPanel::chooseExport() {
    if (const QString file = QFileDialog::getSaveFileName(this, tr("Tempo and meter to"), {}, midiFiles());
        !file.isEmpty())
        exportMap(file.endsWith(QStringLiteral(".mid")) ? file : file + QStringLiteral(".mid"));
}

void MapPanel::addSections() {
    sections_ = addTable(tr("Sections"), {tr("Name"), tr("From bar"), tr("Bars"), tr("Grid")}, 3);
    sections_->setObjectName(QStringLiteral("Sections"));
    connect(sections_, &QTableWidget::cellChanged, this, &MapPanel::sectionChanged, Qt::QueuedConnection);
    auto* row = new QHBoxLayout;
    auto* add = new QPushButton(tr("Make one of the loop"));
    add->setObjectName(QStringLiteral("Add section"));
    add->setToolTip(tr("Of the whole bars that the loop on the ruler touches"));
    auto* drop = new QPushButton(tr("Drop it"));
    drop->setObjectName(QStringLiteral("Drop section"));
    row->addWidget(add);
    row->addWidget(drop);
    column()->addLayout(row);
    connect(add, &QPushButton::clicked, this, &MapPanel::sectionWanted);
    connect(drop, &QPushButton::clicked, this, &MapPanel::dropSection);
}

void MapPanel::showChanges() {
    const MapData& map = document_.session().map;
    std::set<int> bars;
    for (const auto& change : map.tempos)
        bars.insert(change.bar);
    for (const auto& change : map.meters)
        bars.insert(change.bar);
    const QSignalBlocker quiet(changes_);
    const int kept = changes_->currentRow();
    changes_->setRowCount(static_cast<int>(bars.size()));
    int row = 0;
    for (const int bar : bars) {
        const auto tempo =
            std::find_if(map.tempos.begin(), map.tempos.end(), [&](auto& c) { return c.bar == bar; });
        const auto meter =
            std::find_if(map.meters.begin(), map.meters.end(), [&](auto& c) { return c.bar == bar; });
        auto* number = new QTableWidgetItem(QString::number(bar));
        if (bar == 1)
            number->setFlags(number->flags() & ~Qt::ItemIsEditable);
        changes_->setItem(row, barColumn, number);
        changes_->setItem(row, bpmColumn,
                          new QTableWidgetItem(tempo == map.tempos.end()
                                                   ? QString()
                                                   : QString::fromStdString(trimmedNumber(tempo->bpm.value, 3))));
        auto* ramp = new QTableWidgetItem;
        ramp->setFlags(tempo == map.tempos.end() ? Qt::NoItemFlags : Qt::ItemIsEnabled | Qt::ItemIsUserCheckable);
        if (tempo != map.tempos.end())
            ramp->setCheckState(tempo->ramp ? Qt::Checked : Qt::Unchecked);
        changes_->setItem(row, rampColumn, ramp);
        changes_->setItem(
            row, meterColumn,
            new QTableWidgetItem(meter == map.meters.end()
                                     ? QString()
                                     : QStringLiteral("%1/%2").arg(meter->meter.beats).arg(meter->meter.unit)));
        ++row;
    }
    changes_->setCurrentCell(std::min(kept, row - 1), 0);
}

/// The whole table is the map: what one cell says is put together with the rest.
void MapPanel::changed(int row, int) {
    if (row >= changes_->rowCount())
        return;
    MapData map = document_.session().map;
    map.tempos.clear();
    map.meters.clear();
    for (int r = 0; r < changes_->rowCount(); ++r) {
        const int bar = changes_->item(r, barColumn)->text().toInt();
        const QString tempo = changes_->item(r, bpmColumn)->text().trimmed();
        const QStringList meter = changes_->item(r, meterColumn)->text().trimmed().split(QLatin1Char('/'));
        if (!tempo.isEmpty())
            map.tempos.push_back({bar,
                                  {QString(tempo).replace(QLatin1Char(','), QLatin1Char('.')).toDouble()},
                                  changes_->item(r, rampColumn)->checkState() == Qt::Checked});
        if (meter.size() == 2)
            map.meters.push_back({bar, {meter[0].toInt(), meter[1].toInt()}});
    }
    const auto byBar = [](const auto& a, const auto& b) { return a.bar < b.bar; };
    std::sort(map.tempos.begin(), map.tempos.end(), byBar);
    std::sort(map.meters.begin(), map.meters.end(), byBar);
    const std::string bar = changes_->item(row, barColumn)->text().toStdString();
    document_.perform(SetMap{map, "Map at bar " + bar});
    showChanges(); // what was refused is put back
}

void MapPanel::addChange(int bar) {
    const MapData& map = document_.session().map;
    const MapData more = withTempoAt(map, document_.session().rate, bar);
    if (more == map)
        return emit troubled(tr("Bar %1 has a tempo already: change it in the table").arg(bar));
    document_.perform(SetMap{more, "Change at bar " + std::to_string(bar)});
}

void MapPanel::dropChange() {
    const int row = changes_->currentRow();
    const int bar = row < 0 ? 1 : changes_->item(row, barColumn)->text().toInt();
    if (bar == 1)
        return emit troubled(tr("Bar 1 keeps its tempo and meter: choose another change to drop"));
    document_.perform(
        SetMap{withoutChange(document_.session().map, bar), "Drop the change at bar " + std::to_string(bar)});
}

void MapPanel::importMap(const QString& file) {
    const std::filesystem::path path = file.toStdString();
    const auto midi = readWhole(path, largestMidiFile, "a MIDI file").and_then([&](const std::string& bytes) {
        return midiFromBytes(bytes, quotedName(path));
    });
    if (!midi)
        return emit troubled(QString::fromStdString(midi.error().sentence));
    const auto read = tempoMapOf(*midi, quotedName(path));
    if (!read)
        return emit troubled(QString::fromStdString(read.error().sentence));
    const int gesture = Document::newGesture();
    document_.perform(SetMap{read->map, "Map of " + quotedName(path)}, gesture);
    if (const auto markers = markersOf(*midi, read->map); !markers.empty())
        document_.perform(SetSections{sectionsAt(markers), "Map and sections of " + quotedName(path)}, gesture);
    if (read->averaged > 0)
        emit troubled(
            tr("%1 bars change their tempo inside; each got the one tempo that takes as long").arg(read->averaged));
}

/// Each marker's section goes up to the next one, the last to the end of the song.
std::vector<Section> MapPanel::sectionsAt(const std::vector<Marker>& markers) const {
    const Session& session = document_.session();
    const int end = MusicalMap(session.map, session.rate).barAt(SongFrame{0} + session.extent()) + 1;
    std::vector<Section> sections;
    for (std::size_t i = 0; i < markers.size(); ++i) {
        const int next = i + 1 < markers.size() ? markers[i + 1].bar : std::max(end, markers[i].bar + 1);
        sections.push_back({markers[i].name, markers[i].bar, next - markers[i].bar, {}, {}});
    }
    return sections;
}

void MapPanel::exportMap(const QString& file) {
    const Session& session = document_.session();
    const int last = MusicalMap(session.map, session.rate).barAt(SongFrame{0} + session.length());
    const auto written =
        writeAtomically(file.toStdString(), midiBytes(tempoMapFile(session.map, session.rate, last)));
    emit troubled(written ? tr("Bars 1 to %1 are in %2").arg(last).arg(file)
                          : QString::fromStdString(written.error().sentence));
}

void MapPanel::showSections() {
    const auto& sections = document_.session().sections;
    if (sections == shown_ && sections_->rowCount() == static_cast<int>(sections.size()))
        return;
    shown_ = sections;
    const QSignalBlocker quiet(sections_);
    const int kept = sections_->currentRow();
    sections_->setRowCount(static_cast<int>(sections.size()));
    for (std::size_t i = 0; i < sections.size(); ++i) {
        const int row = static_cast<int>(i);
        sections_->setItem(row, nameColumn, new QTableWidgetItem(QString::fromStdString(sections[i].name)));
        sections_->setItem(row, firstColumn, new QTableWidgetItem(beginInWords(sections[i])));
        sections_->setItem(row, barsColumn, new QTableWidgetItem(lengthInWords(sections[i])));
        auto* box = new QComboBox;
        box->addItem(tr("as the song"));
        box->addItems(offeredGridNames());
        box->setCurrentIndex(sections[i].grid ? 1 + offeredGridIndex(*sections[i].grid) : 0);
        box->setAccessibleName(tr("Grid of %1").arg(QString::fromStdString(sections[i].name)));
        sections_->setCellWidget(row, gridColumn, box);
        connect(box, &QComboBox::activated, this, [this, i](int index) {
            document_.perform(SetSectionGrid{
                i, index == 0 ? std::nullopt : std::optional(offeredGrids()[static_cast<std::size_t>(index - 1)])});
        });
    }
    sections_->setCurrentCell(std::min(kept, sections_->rowCount() - 1), 0);
}

void MapPanel::sectionChanged(int row, int) {
    auto sections = document_.session().sections;
    if (row >= static_cast<int>(sections.size()))
        return;
    Section& section = sections[static_cast<std::size_t>(row)];
    section.name = sections_->item(row, nameColumn)->text().trimmed().toStdString();
    // "12" and "4", or for beats of one bar "12.3" and "2 beats".
    const QStringList begin = sections_->item(row, firstColumn)->text().split(QLatin1Char('.'));
    const int length = sections_->item(row, barsColumn)->text().section(QLatin1Char(' '), 0, 0).toInt();
    section.firstBar = begin.front().toInt();
    section.bars = begin.size() > 1 ? 1 : length;
    section.beats = begin.size() > 1 ? std::optional(BeatRange{begin[1].toInt(), length}) : std::nullopt;
    document_.perform(SetSections{sections, "Section " + section.name});
    shown_.clear(); // what was refused is put back
    showSections();
}

void MapPanel::dropSection() {
    auto sections = document_.session().sections;
    const int row = sections_->currentRow();
    if (row < 0 || row >= static_cast<int>(sections.size()))
        return emit troubled(tr("Choose a section first"));
    const std::string name = sections[static_cast<std::size_t>(row)].name;
    sections.erase(sections.begin() + row);
    document_.perform(SetSections{sections, "Drop section " + name});
}

QString MapPanel::state() const {
    const auto& map = document_.session().map;
    const Meter meter = map.meters.front().meter;
    const auto changes = map.tempos.size() + map.meters.size() - 2;
    QString text = tr("%1 BPM, %2/%3")
                       .arg(QString::fromStdString(trimmedNumber(map.tempos.front().bpm.value, 2)))
                       .arg(meter.beats)
                       .arg(meter.unit);
    return changes == 0 ? text : tr("%1, %2 changes").arg(text).arg(changes);
}

} // namespace lampo
