#include "stops/print/samples_page.h"

#include "audio/audio_reader.h"
#include "base/text.h"
#include "demo_kit/one_shots.h"
#include "samples/sample_strokes.h"
#include "samples/sample_tracks.h"

#include <QDoubleSpinBox>
#include <QFileDialog>
#include <QHeaderView>
#include <QMenu>
#include <QSignalBlocker>
#include <QStandardPaths>
#include <QtConcurrent>

#include <algorithm>
#include <utility>

namespace lampo {
namespace {

constexpr double softerBy = 12; ///< dB that a new layer lies below the one above it; common practice, no source

std::vector<SourceFile> sourcesOf(const QStringList& files) {
    std::vector<SourceFile> sources;
    for (const QString& file : files)
        sources.emplace_back(std::filesystem::path(file.toStdString()));
    return sources;
}

/// Of several mics of a drum the first.
std::vector<MicIndex> drumsOf(const Session& session) {
    std::vector<MicIndex> drums;
    for (MicIndex mic; mic < session.mics.size(); ++mic)
        if (isCloseMic(session.mics[mic].role))
            drums.push_back(mic);
    return drums;
}

/// The mic whose drum a file's name says it is of; otherwise the first guide.
std::string likelyDrum(const Session& session, const std::string& stem) {
    const Role role = guessRole(stem).role;
    const auto drums = drumsOf(session);
    const auto found =
        std::find_if(drums.begin(), drums.end(), [&](MicIndex mic) { return session.mics[mic].role == role; });
    const auto guide =
        std::find_if(drums.begin(), drums.end(), [&](MicIndex mic) { return session.mics[mic].guide; });
    if (found != drums.end())
        return session.mics[*found].stem;
    return guide != drums.end() ? session.mics[*guide].stem : session.mics.front().stem;
}

/// That no mic and no other sample has.
std::string freeName(const Session& session, const std::string& wanted) {
    const auto taken = [&](const std::string& name) {
        return session.micNamed(name) || std::any_of(session.samples.begin(), session.samples.end(),
                                                     [&](const DrumSample& each) { return each.name == name; });
    };
    std::string name = asFileName(wanted);
    for (int number = 2; taken(name); ++number)
        name = asFileName(wanted + " " + std::to_string(number));
    return name;
}

} // namespace

SamplesPage::SamplesPage(Document& document, SheetWidget& sheet, QWidget* parent)
    : Panel(document, {}, parent), sheet_(sheet), list_(new QListWidget), details_(new QWidget) {
    addNote(tr("Recordings of single strokes beside a drum, each where it fits the real attack."));
    list_->setObjectName(QStringLiteral("Samples"));
    list_->setAccessibleName(tr("Samples"));
    list_->setMaximumHeight(4 * fontMetrics().lineSpacing());
    column()->addWidget(list_);
    auto* row = new QHBoxLayout;
    auto* more = new QPushButton(tr("Add…"));
    more->setObjectName(QStringLiteral("Add sample"));
    auto* menu = new QMenu(more);
    more->setMenu(menu);
    menu->addAction(tr("From files…"), this, [this] {
        if (const QStringList files = askForFiles(); !files.isEmpty())
            add(files);
    });
    for (const demo::Drum drum : {demo::Drum::kick, demo::Drum::snare, demo::Drum::tomRack, demo::Drum::tomFloor}) {
        const QString name = QString::fromStdString(std::string(demo::name(drum)));
        menu->addAction(tr("Built-in %1").arg(name), this, [this, drum] { addBuiltIn(drum); })
            ->setObjectName(QStringLiteral("Built-in ") + name);
    }
    auto* gone = new QPushButton(tr("Delete"));
    gone->setObjectName(QStringLiteral("Delete sample"));
    row->addWidget(more);
    row->addWidget(gone);
    column()->addLayout(row);
    new QVBoxLayout(details_);
    details_->layout()->setContentsMargins({});
    column()->addWidget(details_);
    addDetails();
    addHits();
    column()->addStretch(1);
    connect(gone, &QPushButton::clicked, this, [this] {
        if (chosen())
            document_.perform(SampleEdit{DeleteSample{index()}});
    });
    connect(list_, &QListWidget::currentRowChanged, this, [this] { refresh(); });
    connect(list_, &QListWidget::itemChanged, this, [this](QListWidgetItem* item) {
        if (filling_)
            return;
        DrumSample sample = document_.session().samples[static_cast<std::size_t>(list_->row(item))];
        sample.on = item->checkState() == Qt::Checked;
        document_.perform(SampleEdit{PutSample{static_cast<std::size_t>(list_->row(item)), sample,
                                               (sample.on ? "Hear " : "Silence ") + sample.name}});
    });
    connect(&fitting_, &QFutureWatcher<std::shared_ptr<Fitted>>::finished, this, &SamplesPage::fitArrived);
    onChange([this, more, gone] {
        fill();
        more->setEnabled(!document_.session().mics.empty());
        gone->setEnabled(chosen() != nullptr);
        details_->setVisible(chosen() != nullptr);
        showInPlot();
    });
    refresh();
}

SamplesPage::~SamplesPage() {
    fitting_.waitForFinished();
}

void SamplesPage::addDetails() {
    auto* layout = static_cast<QVBoxLayout*>(details_->layout());
    auto* form = new QFormLayout;
    layout->addLayout(form);
    drum_ = new QComboBox;
    drum_->setObjectName(QStringLiteral("Beside drum"));
    drum_->setAccessibleName(tr("The drum that it sounds beside"));
    form->addRow(tr("Beside"), drum_);
    const auto set = [this](auto&& change, const QString& what) {
        return [this, change, what](double value) -> std::optional<Edit> {
            const DrumSample* now = chosen();
            if (!now)
                return std::nullopt;
            DrumSample sample = *now;
            change(sample, value);
            return SampleEdit{
                PutSample{index(), sample, what.arg(QString::fromStdString(sample.name)).toStdString()}};
        };
    };
    addNumber(
        form, numberOf(tr("Level"), limits::level, 1), [this] { return chosen() ? chosen()->level.value : 0; },
        set([](DrumSample& sample, double value) { sample.level = {value}; }, tr("Level of %1")), true);
    addNumber(
        form, numberOf(tr("Delay"), limits::sampleLater, 2),
        [this] { return chosen() ? toMilliseconds(chosen()->later, document_.session().rate).value : 0; },
        set([this](DrumSample& sample,
                   double value) { sample.later = toFrames(Milliseconds{value}, document_.session().rate); },
            tr("Delay of %1")));
    inverted_ = new QCheckBox(tr("Polarity inverted"));
    inverted_->setObjectName(QStringLiteral("Sample inverted"));
    layout->addWidget(inverted_);
    layers_ = new QTableWidget(0, 2);
    layers_->setObjectName(QStringLiteral("Layers"));
    layers_->setAccessibleName(tr("Layers, the softest first"));
    layers_->setHorizontalHeaderLabels({tr("Up to, dB"), tr("Files, in turn")});
    layers_->verticalHeader()->hide();
    layers_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::ResizeToContents);
    layers_->horizontalHeader()->setSectionResizeMode(1, QHeaderView::Stretch);
    layers_->setMaximumHeight(4 * layers_->verticalHeader()->defaultSectionSize());
    layout->addWidget(layers_);
    auto* softer = new QPushButton(tr("Softer layer…"));
    softer->setObjectName(QStringLiteral("Add layer"));
    fit_ = new QPushButton(tr("Fit to drum"));
    fit_->setObjectName(QStringLiteral("Fit sample"));
    fit_->setToolTip(tr("Where its files begin and their polarity, by the drum's loudest strokes"));
    auto* below = new QHBoxLayout;
    below->addWidget(softer);
    below->addWidget(fit_);
    layout->addLayout(below);
    connect(drum_, &QComboBox::activated, this, [this](int row) {
        DrumSample sample = *chosen();
        sample.mic = drum_->itemData(row).toString().toStdString();
        put(sample, tr("%1 beside %2").arg(QString::fromStdString(sample.name), drum_->itemText(row)));
        fit();
    });
    connect(inverted_, &QCheckBox::clicked, this, [this](bool on) {
        DrumSample sample = *chosen();
        sample.inverted = on;
        put(sample, tr("Polarity of %1").arg(QString::fromStdString(sample.name)));
    });
    connect(softer, &QPushButton::clicked, this, [this] {
        if (const QStringList files = askForFiles(); !files.isEmpty())
            addSofter(files);
    });
    connect(fit_, &QPushButton::clicked, this, &SamplesPage::fit);
    connect(layers_, &QTableWidget::cellChanged, this, &SamplesPage::layerChanged);
}

void SamplesPage::addHits() {
    auto* layout = static_cast<QVBoxLayout*>(details_->layout());
    auto* note = new QLabel(tr("At the chosen hits (levels are drawn in the plot):"));
    note->setWordWrap(true);
    layout->addWidget(note);
    auto* row = new QHBoxLayout;
    auto* out = new QPushButton(tr("Leave out"));
    out->setObjectName(QStringLiteral("Sample out"));
    auto* level = makeField(numberOf(tr("Sample level"), limits::sampleLevel, 1));
    auto* set = new QPushButton(tr("Level"));
    set->setObjectName(QStringLiteral("Sample level here"));
    auto* back = new QPushButton(tr("As played"));
    back->setObjectName(QStringLiteral("Sample as played"));
    row->addWidget(out);
    row->addWidget(back);
    layout->addLayout(row);
    auto* second = new QHBoxLayout;
    second->addWidget(level, 1);
    second->addWidget(set);
    layout->addLayout(second);
    connect(out, &QPushButton::clicked, this, [this] { say(true, std::nullopt); });
    connect(back, &QPushButton::clicked, this, [this] { say(false, std::nullopt); });
    connect(set, &QPushButton::clicked, this, [this, level] { say(false, Decibels{level->value()}); });
}

const DrumSample* SamplesPage::chosen() const {
    const auto& samples = document_.session().samples;
    const int row = list_->currentRow();
    return row >= 0 && row < std::ssize(samples) ? &samples[static_cast<std::size_t>(row)] : nullptr;
}

std::size_t SamplesPage::index() const {
    return static_cast<std::size_t>(list_->currentRow());
}

QStringList SamplesPage::askForFiles() {
    return QFileDialog::getOpenFileNames(this, tr("Strokes of one drum"), {},
                                         tr("Audio (*.wav *.flac *.aif *.aiff)"));
}

void SamplesPage::add(const QStringList& files) {
    const Session& session = document_.session();
    if (session.mics.empty() || files.isEmpty())
        return;
    const std::string stem = std::filesystem::path(files.front().toStdString()).stem().string();
    for (const QString& file : files)
        if (const auto probed = probeAudio(file.toStdString()); !probed)
            return emit notified(QString::fromStdString(probed.error().sentence));
    addLayers(stem, {{{0}, sourcesOf(files)}});
}

void SamplesPage::addLayers(const std::string& drum, std::vector<SampleLayer> layers) {
    const Session& session = document_.session();
    const DrumSample sample{freeName(session, drum + " sample"), likelyDrum(session, drum), std::move(layers)};
    if (!document_.perform(SampleEdit{PutSample{std::nullopt, sample, "Add " + sample.name}}))
        return;
    list_->setCurrentRow(list_->count() - 1);
    fit();
}

void SamplesPage::addBuiltIn(demo::Drum drum) {
    if (document_.session().mics.empty())
        return;
    const QString own = QStandardPaths::writableLocation(QStandardPaths::AppDataLocation);
    auto layers = demo::writeOneShots(drum, std::filesystem::path(own.toStdString()) / "one-shots");
    if (!layers)
        return emit notified(QString::fromStdString(layers.error().sentence));
    addLayers(std::string(demo::name(drum)), std::move(*layers));
}

void SamplesPage::addSofter(const QStringList& files) {
    if (!chosen() || files.isEmpty())
        return;
    for (const QString& file : files)
        if (const auto probed = probeAudio(file.toStdString()); !probed)
            return emit notified(QString::fromStdString(probed.error().sentence));
    DrumSample sample = *chosen();
    const double above = sample.layers.front().upTo.value;
    sample.layers.insert(sample.layers.begin(),
                         {{std::max(above - softerBy, limits::sampleLevel.low)}, sourcesOf(files)});
    put(sample, tr("A softer layer of %1").arg(QString::fromStdString(sample.name)));
    fit();
}

void SamplesPage::put(const DrumSample& sample, const QString& what) {
    document_.perform(SampleEdit{PutSample{index(), sample, what.toStdString()}});
}

void SamplesPage::fill() {
    const Session& session = document_.session();
    filling_ = true;
    const QSignalBlocker quiet(list_);
    const int before = list_->currentRow();
    while (list_->count() > std::ssize(session.samples))
        delete list_->takeItem(list_->count() - 1);
    for (int row = 0; row < std::ssize(session.samples); ++row) {
        const DrumSample& sample = session.samples[static_cast<std::size_t>(row)];
        auto* item = row < list_->count() ? list_->item(row) : new QListWidgetItem(list_);
        item->setText(
            tr("%1, beside %2").arg(QString::fromStdString(sample.name), QString::fromStdString(sample.mic)));
        item->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsUserCheckable);
        item->setCheckState(sample.on ? Qt::Checked : Qt::Unchecked);
    }
    list_->setCurrentRow(std::clamp(before, list_->count() > 0 ? 0 : -1, list_->count() - 1));
    drum_->clear();
    for (const MicIndex mic : drumsOf(session))
        drum_->addItem(QString::fromStdString(session.mics[mic].shownName()),
                       QString::fromStdString(session.mics[mic].stem));
    if (const DrumSample* sample = chosen()) {
        drum_->setCurrentIndex(drum_->findData(QString::fromStdString(sample->mic)));
        inverted_->setChecked(sample->inverted);
        fillLayers(*sample);
    }
    filling_ = false;
}

void SamplesPage::fillLayers(const DrumSample& sample) {
    layers_->setRowCount(static_cast<int>(sample.layers.size()));
    for (int row = 0; row < layers_->rowCount(); ++row) {
        const SampleLayer& layer = sample.layers[static_cast<std::size_t>(row)];
        QStringList files;
        for (const SourceFile& file : layer.files)
            files << QString::fromStdString(visible(file.file.filename().string()));
        auto* level = new QTableWidgetItem(QString::fromStdString(withMinus(layer.upTo.value)));
        level->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
        auto* names = new QTableWidgetItem(files.join(QStringLiteral(", ")));
        names->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable);
        names->setToolTip(names->text());
        layers_->setItem(row, 0, level);
        layers_->setItem(row, 1, names);
    }
}

void SamplesPage::layerChanged(int row, int column) {
    if (filling_ || column != 0 || !chosen())
        return;
    bool isNumber = false;
    const double level = layers_->item(row, 0)->text().replace(QChar(0x2212), QLatin1Char('-')).toDouble(&isNumber);
    DrumSample sample = *chosen();
    if (isNumber) {
        sample.layers[static_cast<std::size_t>(row)].upTo = {level};
        std::stable_sort(sample.layers.begin(), sample.layers.end(),
                         [](const SampleLayer& a, const SampleLayer& b) { return a.upTo < b.upTo; });
        put(sample, tr("Layers of %1").arg(QString::fromStdString(sample.name)));
    }
    refresh(); // also when it was refused
}

/// Only about hits that the sample's drum has a part in.
void SamplesPage::say(bool out, std::optional<Decibels> level) {
    const DrumSample* sample = chosen();
    if (!sample)
        return;
    SaySampleHits edit{index(), {}};
    for (const HitIndex hit : sheet_.state().selection)
        if (sampleStroke(document_.session(), document_.outcome(), *sample, hit))
            edit.said.push_back({placeOf(document_.session(), document_.outcome().hits[hit]), out, level});
    if (!edit.said.empty())
        document_.perform(SampleEdit{edit});
}

/// While this page is seen.
void SamplesPage::showInPlot() {
    sheet_.setPlotsSample(isVisible() && chosen() ? std::optional(index()) : std::nullopt);
}

void SamplesPage::showEvent(QShowEvent* event) {
    Panel::showEvent(event);
    showInPlot();
}

void SamplesPage::hideEvent(QHideEvent* event) {
    Panel::hideEvent(event);
    showInPlot();
}

void SamplesPage::fit() {
    const DrumSample* sample = chosen();
    again_ = sample && fitting_.isRunning();
    if (!sample || again_)
        return;
    fit_->setEnabled(false);
    fitting_.setFuture(
        QtConcurrent::run([session = document_.session(), outcome = document_.sharedOutcome(), before = *sample] {
            return std::make_shared<Fitted>(Fitted{before, fitted(session, *outcome, before)});
        }));
}

void SamplesPage::fitArrived() {
    fit_->setEnabled(true);
    const Fitted& result = *fitting_.result();
    if (!result.after)
        return emit notified(QString::fromStdString(result.after.error().sentence));
    if (std::exchange(again_, false))
        return fit();
    const auto& samples = document_.session().samples;
    const auto same = std::find(samples.begin(), samples.end(), result.before);
    if (same == samples.end() || *result.after == result.before)
        return; // changed meanwhile, or nothing to do
    document_.perform(SampleEdit{PutSample{static_cast<std::size_t>(same - samples.begin()), *result.after,
                                           "Fit " + result.after->name + " to its drum"}});
}

} // namespace lampo
