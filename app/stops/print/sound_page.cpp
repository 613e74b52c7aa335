#include "stops/print/sound_page.h"

#include "base/text.h"
#include "look/names.h"
#include "map/musical_map.h"

#include <QDir>
#include <QFileDialog>
#include <QPushButton>
#include <QSettings>
#include <QSignalBlocker>

#include <algorithm>
#include <array>

namespace lampo {
namespace {

enum Stretch { wholeSong, loop, bars, firstSection }; // in the order of the list
enum Mics { allOfThem, heard, chosen };

constexpr std::array rates{44100, 48000, 88200, 96000, 176400, 192000}; ///< in use; common practice, no source
constexpr int shownNames = 4;

/// That of the version which was kept last and is still as it is; otherwise empty.
std::string versionOf(Session session) {
    if (session.versions.empty())
        return {};
    const Version last = session.versions.back();
    session.versions.clear();
    return *last.session == session ? last.name : std::string();
}

QComboBox* makeList(const QString& name, const QStringList& items) {
    auto* list = new QComboBox;
    list->setAccessibleName(name);
    list->setObjectName(name);
    list->addItems(items);
    list->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    list->setMinimumContentsLength(5);
    list->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    return list;
}

/// Side by side, each as wide as the other.
QHBoxLayout* rowOf(QWidget* left, QWidget* right) {
    auto* row = new QHBoxLayout;
    row->addWidget(left, 1);
    row->addWidget(right, 1);
    return row;
}

} // namespace

SoundPage::SoundPage(Document& document, QWidget* parent) : Panel(document, {}, parent) {
    addContent();
    addFormat();
    addNames();
    column()->addStretch(1);
    recall();
    onChange([this] {
        fillStretches();
        fillMics();
        folder_->setPlaceholderText(defaultFolder());
    });
    onChangeWhileVisible([this] { showNames(); });
    refresh();
}

QCheckBox* SoundPage::addCheck(const QString& title, const char* name, bool on) {
    auto* check = new QCheckBox(title);
    check->setObjectName(QLatin1String(name));
    check->setChecked(on);
    connect(check, &QCheckBox::toggled, this, &SoundPage::showNames);
    return check;
}

void SoundPage::addContent() {
    auto* form = addForm();
    stretch_ = makeList(tr("Stretch"), {});
    form->addRow(tr("Stretch"), stretch_);
    bars_ = new QWidget;
    auto* row = new QHBoxLayout(bars_);
    row->setContentsMargins({});
    for (auto [field, name] : {std::pair{&firstBar_, "First bar"}, {&lastBar_, "Last bar"}}) {
        *field = new QSpinBox;
        (*field)->setRange(-limits::bars, limits::bars);
        (*field)->setValue(1);
        (*field)->setObjectName(QLatin1String(name));
        (*field)->setAccessibleName(tr(name));
        connect(*field, &QSpinBox::valueChanged, this, &SoundPage::showNames);
    }
    row->addWidget(firstBar_);
    row->addWidget(new QLabel(tr("to")));
    row->addWidget(lastBar_);
    row->addStretch(1);
    bars_->hide();
    form->addRow(tr("Bars"), bars_);
    form->labelForField(bars_)->hide();
    mics_ = makeList(tr("Which mics"), {tr("All"), tr("Those that are heard"), tr("Some of them")});
    form->addRow(tr("Mics"), mics_);
    chosenMics_ = new QListWidget;
    chosenMics_->setObjectName(QStringLiteral("Printed mics"));
    chosenMics_->setAccessibleName(tr("Mics that are printed"));
    chosenMics_->setMaximumHeight(9 * fontMetrics().lineSpacing());
    chosenMics_->hide();
    column()->addWidget(chosenMics_);
    auto* checks = new QGridLayout;
    oneFile_ = addCheck(tr("All in one file"), "One file", false);
    beside_ = addCheck(tr("What is beside"), "Companions too", false);
    click_ = addCheck(tr("Click"), "Click too", false);
    mix_ = addCheck(tr("Stereo mix"), "Mix too", false);
    mix_->setToolTip(tr("To listen to, with the levels of playback"));
    for (auto [check, place] : {std::pair{oneFile_, 0}, {beside_, 1}, {click_, 2}, {mix_, 3}})
        checks->addWidget(check, place / 2, place % 2);
    column()->addLayout(checks);
    connect(stretch_, &QComboBox::currentIndexChanged, this, [this, form](int index) {
        bars_->setVisible(index == bars);
        form->labelForField(bars_)->setVisible(index == bars);
        showNames();
    });
    connect(mics_, &QComboBox::currentIndexChanged, this, [this](int index) {
        chosenMics_->setVisible(index == chosen);
        showNames();
    });
    connect(chosenMics_, &QListWidget::itemChanged, this, &SoundPage::showNames);
}

void SoundPage::addFormat() {
    auto* form = addForm();
    container_ = makeList(tr("File"), {tr("WAV"), tr("Broadcast WAV"), tr("AIFF"), tr("FLAC")});
    encoding_ = makeList(tr("Bits"), {tr("16 bits"), tr("24 bits"), tr("32 bits float")});
    encoding_->setCurrentIndex(1);
    QStringList offered{tr("As recorded")};
    for (const int rate : rates)
        offered << tr("%1 Hz").arg(rate);
    rate_ = makeList(tr("Rate"), offered);
    dither_ = makeList(tr("Dither"), {tr("At 16 bits"), tr("Never"), tr("Always")});
    dither_->setToolTip(tr("Triangular noise for samples that were worked on; untouched ones stay bit for bit"));
    form->addRow(tr("File"), rowOf(container_, encoding_));
    form->addRow(tr("Rate"), rate_);
    form->addRow(tr("Dither"), dither_);
    for (QComboBox* list : {container_, encoding_, rate_, dither_})
        connect(list, &QComboBox::currentIndexChanged, this, [this] {
            remember();
            showNames();
        });
    markers_ = addCheck(tr("Markers"), "Markers", true);
    markers_->setToolTip(tr("Sections as named places in WAV and AIFF files"));
    about_ = addCheck(tr("Text about it"), "About", true);
    about_->setToolTip(tr("Beside the files: settings, figures, checksums"));
    column()->addLayout(rowOf(markers_, about_));
    for (QCheckBox* check : {markers_, about_})
        connect(check, &QCheckBox::toggled, this, &SoundPage::remember);
}

void SoundPage::addNames() {
    auto* form = addForm();
    names_ = new QLineEdit(QStringLiteral("{mic}"));
    names_->setObjectName(QStringLiteral("Names"));
    names_->setAccessibleName(tr("Names of the files"));
    names_->setToolTip(tr("In braces: song, mic, take, version, date"));
    form->addRow(tr("Names"), names_);
    folder_ = new QLineEdit;
    folder_->setAccessibleName(tr("Folder"));
    folder_->setObjectName(QLatin1String(names::printFolder));
    auto* other = new QPushButton(tr("…"));
    other->setAccessibleName(tr("Choose a folder"));
    other->setToolTip(tr("Choose a folder"));
    other->setMaximumWidth(other->fontMetrics().horizontalAdvance(QStringLiteral("MMM")));
    auto* row = new QHBoxLayout;
    row->addWidget(folder_, 1);
    row->addWidget(other);
    form->addRow(tr("Folder"), row);
    preview_ = addNote();
    preview_->setObjectName(QStringLiteral("Print names"));
    connect(names_, &QLineEdit::textChanged, this, [this] {
        remember();
        showNames();
    });
    connect(folder_, &QLineEdit::textChanged, this, &SoundPage::showNames);
    connect(other, &QPushButton::clicked, this, &SoundPage::choose);
}

void SoundPage::choose() {
    const QString found =
        QFileDialog::getExistingDirectory(this, tr("Folder for the printed files"), folder_->text());
    if (!found.isEmpty())
        folder_->setText(found);
}

void SoundPage::remember() const {
    if (refreshing())
        return;
    QSettings settings;
    settings.setValue(QLatin1String(names::printFormat),
                      QStringList{QString::number(container_->currentIndex()),
                                  QString::number(encoding_->currentIndex()),
                                  QString::number(rate_->currentIndex()), QString::number(dither_->currentIndex()),
                                  QString::number(markers_->isChecked()), QString::number(about_->isChecked())});
    settings.setValue(QLatin1String(names::printNames), names_->text());
}

void SoundPage::recall() {
    const QSettings settings;
    const QStringList kept = settings.value(QLatin1String(names::printFormat)).toStringList();
    const std::vector<QComboBox*> lists{container_, encoding_, rate_, dither_};
    if (kept.size() == 6) {
        for (std::size_t i = 0; i < lists.size(); ++i) {
            const QSignalBlocker quiet(lists[i]);
            lists[i]->setCurrentIndex(std::clamp(kept[static_cast<int>(i)].toInt(), 0, lists[i]->count() - 1));
        }
        const QSignalBlocker quietly(markers_), silently(about_);
        markers_->setChecked(kept[4].toInt() != 0);
        about_->setChecked(kept[5].toInt() != 0);
    }
    const QSignalBlocker quiet(names_);
    names_->setText(settings.value(QLatin1String(names::printNames), names_->text()).toString());
}

void SoundPage::fillStretches() {
    std::vector<std::string> sections;
    for (const Section& section : document_.session().sections)
        if (!section.beats)
            sections.push_back(section.name);
    if (sections == sections_ && stretch_->count() > 0)
        return;
    const QSignalBlocker quiet(stretch_);
    const int before = stretch_->currentIndex();
    stretch_->clear();
    stretch_->addItems({tr("The whole song"), tr("The loop"), tr("Bars…")});
    for (const std::string& name : sections)
        stretch_->addItem(name.empty() ? tr("A section without a name") : QString::fromStdString(name));
    stretch_->setCurrentIndex(std::clamp(before, 0, stretch_->count() - 1));
    sections_ = std::move(sections);
}

void SoundPage::fillMics() {
    std::vector<std::string> stems;
    for (const Mic& mic : document_.session().mics)
        stems.push_back(mic.stem);
    if (stems == stems_)
        return;
    const QSignalBlocker quiet(chosenMics_);
    chosenMics_->clear();
    for (const std::string& stem : stems) {
        auto* item = new QListWidgetItem(QString::fromStdString(stem), chosenMics_);
        item->setFlags(Qt::ItemIsEnabled | Qt::ItemIsUserCheckable);
        item->setCheckState(Qt::Checked);
    }
    stems_ = std::move(stems);
}

QString SoundPage::defaultFolder() const {
    if (document_.session().empty())
        return {};
    const auto base = document_.file().empty() ? document_.session().take().folder : document_.file();
    return QString::fromStdString(
        (base.parent_path() / (asFileName(document_.session().title) + " print")).string());
}

QString SoundPage::folder() const {
    return folder_->text().isEmpty() ? defaultFolder() : folder_->text();
}

Expected<std::optional<Range<ResultFrame>>> SoundPage::stretch() const {
    const Session& session = document_.session();
    const MusicalMap map(session.map, session.rate);
    const int index = stretch_->currentIndex();
    std::optional<Range<ResultFrame>> range;
    if (index == loop)
        range = loop_ ? loop_() : Range<ResultFrame>{};
    if (index == bars)
        range = {asResult(map.barStart(firstBar_->value())), asResult(map.barStart(lastBar_->value() + 1))};
    if (index >= firstSection) {
        int at = firstSection;
        for (const Section& section : session.sections)
            if (!section.beats && at++ == index)
                range = {asResult(rangeOf(section, map).begin), asResult(rangeOf(section, map).end)};
    }
    if (range && range->empty())
        return fail(ErrorKind::badValue, index == loop
                                             ? "There is no loop: drag over a stretch of the song strip first"
                                             : "The last bar lies before the first");
    return range;
}

Expected<PrintSettings> SoundPage::settings() const {
    const Session& session = document_.session();
    PrintSettings settings{
        folder().toStdString(),
        {static_cast<Container>(container_->currentIndex()), static_cast<Encoding>(encoding_->currentIndex())},
        {},
        document_.protectedFiles()};
    auto range = stretch();
    if (!range)
        return tl::unexpected(range.error());
    settings.range = *range;
    const bool anySolo =
        std::any_of(session.mics.begin(), session.mics.end(), [](const Mic& mic) { return mic.solo; });
    settings.mics = 0;
    for (MicIndex mic; mic < session.mics.size(); ++mic) {
        const Mic& of = session.mics[mic];
        const bool wanted = mics_->currentIndex() == heard ? !of.mute && (!anySolo || of.solo)
                            : mics_->currentIndex() == chosen
                                ? chosenMics_->item(static_cast<int>(mic.value))->checkState() == Qt::Checked
                                : true;
        settings.mics |= wanted ? onlyMic(mic) : 0;
    }
    settings.polyphonic = oneFile_->isChecked();
    settings.companions = beside_->isChecked();
    settings.click = click_->isChecked();
    if (mix_->isChecked())
        settings.mix =
            settings.folder / (asFileName(session.title + " mix") + std::string(extension(settings.format)));
    if (rate_->currentIndex() > 0)
        settings.rate = SampleRate{rates.at(static_cast<std::size_t>(rate_->currentIndex() - 1))};
    if (dither_->currentIndex() > 0)
        settings.dither = dither_->currentIndex() == 1 ? Dither::none : Dither::tpdf;
    settings.names = names_->text().toStdString();
    settings.markers = markers_->isChecked();
    settings.at = calendarNow();
    for (const DrumSample& sample : session.samples)
        if (sample.on)
            settings.samples.push_back({sample.name, std::make_shared<const NoteSounds>()}); // for its name
    settings.version = versionOf(session);
    return settings;
}

void SoundPage::showNames() {
    if (document_.session().empty() || stretch_->count() == 0)
        return preview_->clear();
    const auto list =
        settings().and_then([&](const PrintSettings& set) { return printedFiles(document_.session(), set); });
    if (!list)
        return preview_->setText(QString::fromStdString(list.error().sentence) + QStringLiteral("."));
    QStringList names;
    for (const PrintedFile& file : list->sounds)
        if (names.size() < shownNames)
            names << QString::fromStdString(visible(file.file.filename().string()));
    const auto more = std::ssize(list->sounds) - names.size();
    preview_->setText(more > 0 ? tr("%1 and %2 more").arg(names.join(QStringLiteral(", "))).arg(more)
                               : names.join(QStringLiteral(", ")));
}

} // namespace lampo
