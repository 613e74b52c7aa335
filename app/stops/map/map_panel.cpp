#include "stops/map/map_panel.h"

#include "base/text.h"
#include "base/whole_file.h"
#include "look/file_to_write.h"
#include "look/number.h"
#include "stops/map/changes_page.h"
#include "stops/map/map_check_page.h"
#include "stops/map/sections_page.h"

#include <QFileDialog>
#include <QPushButton>

#include <algorithm>
#include <bit>

namespace lampo {
namespace {

QString midiFiles() {
    return QObject::tr("Standard MIDI Files (*.mid *.midi)");
}

} // namespace

MapPanel::MapPanel(Document& document, QWidget* parent) : Panel(document, tr("Map"), parent) {
    auto* form = addForm();
    addNumber(
        form, numberOf(tr("Tempo"), limits::tempo, 2),
        [this] { return document_.session().map.tempos.front().bpm.value; },
        [](double value) { return SetTempo{{value}}; });
    const auto meter = [this] { return document_.session().map.meters.front().meter; };
    NumberSpec beats = numberOf(tr("Beats in a bar"), limits::beats);
    beats.unit.clear();
    auto* meterRow = addNumber(
        form, beats, [meter] { return meter().beats; },
        [meter](double value) {
            return SetMeter{{static_cast<int>(value), meter().unit}};
        });
    addChoice(
        meterRow, tr("Beat"),
        {QStringLiteral("of 1/1"), QStringLiteral("of 1/2"), QStringLiteral("of 1/4"), QStringLiteral("of 1/8"),
         QStringLiteral("of 1/16"), QStringLiteral("of 1/32")},
        [meter] { return static_cast<int>(std::countr_zero(static_cast<unsigned>(meter().unit))); },
        [meter](int index) {
            return SetMeter{{meter().beats, 1 << index}};
        });
    auto* originRow = addNumber(
        form, numberOf(tr("Bar 1 lies at"), limits::barOne, 2),
        [this] {
            return toMilliseconds(FrameCount{document_.session().map.origin.frame}, document_.session().rate).value;
        },
        [this](double value) {
            return SetOrigin{SongFrame{} + toFrames(Milliseconds{value}, document_.session().rate)};
        });
    auto* fromHit = new QPushButton(tr("the chosen hit"));
    fromHit->setObjectName(QStringLiteral("Bar 1 is the chosen hit"));
    fromHit->setAccessibleName(tr("Bar 1 is the chosen hit"));
    fromHit->setToolTip(tr("Bar 1 begins where the chosen hit was played"));
    connect(fromHit, &QPushButton::clicked, this, &MapPanel::originFromSelection);
    originRow->addWidget(fromHit);
    check_ = new MapCheckPage(document);
    column()->addWidget(check_);
    connect(check_, &MapCheckPage::notified, this, &MapPanel::notified);
    auto* changes = new ChangesPage(document);
    column()->addWidget(changes, 2);
    connect(changes, &ChangesPage::notified, this, &MapPanel::notified);
    auto* sections = new SectionsPage(document);
    column()->addWidget(sections, 3);
    connect(sections, &SectionsPage::notified, this, &MapPanel::notified);
    connect(sections, &SectionsPage::sectionWanted, this, &MapPanel::sectionWanted);
    refresh();
}

void MapPanel::chooseImport() {
    if (const QString file = QFileDialog::getOpenFileName(this, tr("Tempo and meter from"), {}, midiFiles());
        !file.isEmpty())
        importMap(file);
}

void MapPanel::chooseExport() {
    if (const QString file = fileToWrite(this, tr("Tempo and meter to"), {}, midiFiles(), QStringLiteral("mid"));
        !file.isEmpty())
        exportMap(file);
}

void MapPanel::importMap(const QString& file) {
    const std::filesystem::path path = file.toStdString();
    const auto midi = readWhole(path, largestMidiFile, "MIDI file").and_then([&](const std::string& bytes) {
        return midiFromBytes(bytes, quotedName(path));
    });
    if (!midi)
        return emit notified(QString::fromStdString(midi.error().sentence));
    const auto read = tempoMapOf(*midi, document_.session().rate, quotedName(path));
    if (!read)
        return emit notified(QString::fromStdString(read.error().sentence));
    const int gesture = Document::newGesture();
    document_.perform(SetMap{read->map, "Map of " + quotedName(path)}, gesture);
    if (!read->markers.empty())
        document_.perform(SetSections{sectionsAt(read->markers), "Map and sections of " + quotedName(path)},
                          gesture);
}

/// Each marker's section goes up to the next one, the last to the end of the song. One that is known by its name
/// keeps what it sets.
std::vector<Section> MapPanel::sectionsAt(const std::vector<Marker>& markers) const {
    const Session& session = document_.session();
    const int end = MusicalMap(session.map, session.rate).barAt(SongFrame{0} + session.extent()) + 1;
    std::vector<Section> sections;
    for (std::size_t i = 0; i < markers.size(); ++i) {
        const int next = i + 1 < markers.size() ? markers[i + 1].bar : std::max(end, markers[i].bar + 1);
        const auto known = std::find_if(session.sections.begin(), session.sections.end(),
                                        [&](const Section& s) { return !s.beats && s.name == markers[i].name; });
        Section section = known != session.sections.end() ? *known : Section{markers[i].name, 1, 1, {}, {}};
        section.firstBar = markers[i].bar;
        section.bars = next - markers[i].bar;
        sections.push_back(std::move(section));
    }
    return sections;
}

void MapPanel::exportMap(const QString& file) {
    const Session& session = document_.session();
    const int last = MusicalMap(session.map, session.rate).barAt(SongFrame{0} + session.length());
    const auto written = document_.protectedFiles().mayWrite(file.toStdString()).and_then([&] {
        return writeAtomically(file.toStdString(), midiBytes(tempoMapFile(session.map, session.rate, last)));
    });
    emit notified(written ? tr("Bars 1 to %1 are in %2").arg(last).arg(file)
                          : QString::fromStdString(written.error().sentence));
}

QString MapPanel::state() const {
    const auto& map = document_.session().map;
    const Meter meter = map.meters.front().meter;
    const auto changes = map.tempos.size() + map.meters.size() - 2;
    QString text = tr("%1 BPM, %2/%3")
                       .arg(QString::fromStdString(trimmedNumber(map.tempos.front().bpm.value, 2)))
                       .arg(meter.beats)
                       .arg(meter.unit);
    return changes == 0 ? text : tr("%1, %2").arg(text, counted(static_cast<std::int64_t>(changes), tr("change")));
}

} // namespace lampo
