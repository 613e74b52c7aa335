#include "shell/main_window.h"

#include "document/player_control.h"
#include "look/names.h"
#include "project/project_file.h"
#include "shell/field_keys.h"
#include "shell/mic_heads.h"
#include "shell/song_strip.h"
#include "shell/stop_line.h"
#include "shell/transport_bar.h"
#include "stops/hits_panel.h"
#include "stops/kit_panel.h"
#include "stops/map/map_panel.h"
#include "stops/print/print_panel.h"
#include "stops/proof/proof_panel.h"
#include "stops/seams/seams_panel.h"
#include "stops/seams/seams_table.h"
#include "stops/timing/timing_panel.h"
#include "stops/versions_panel.h"
#include "takes/takes_menu.h"
#include "takes/takes_panel.h"

#include <QApplication>
#include <QCloseEvent>
#include <QDateTime>
#include <QDragEnterEvent>
#include <QHBoxLayout>
#include <QMimeData>
#include <QScreen>
#include <QScrollArea>
#include <QSettings>

namespace lampo {

MainWindow::MainWindow(std::unique_ptr<AudioDevice> device, QWidget* parent) : QMainWindow(parent) {
    player_ = std::make_unique<PlayerControl>(document_, std::move(device));
    setAcceptDrops(true);
    qApp->installEventFilter(new FieldKeys(this));
    buildFileMenu();
    buildEditMenu();
    buildViewMenu();
    buildGoMenu();
    buildListenMenu();
    buildHelpMenu();
    buildWindow();
    buildTakesMenu();
    buildSeamMenu();
    buildRepairMenu();
    buildProofMenu();
    buildHitMenu();
    connectParts();
    connectFiles();
    connectTakes();
    restore();
    refreshStates();
    retitle();
}

MainWindow::~MainWindow() {
    document_.close();
}

void MainWindow::buildWindow() {
    const Ink ink = paperInk();
    stops_ = new StopLine(stopNames(), ink);
    sheet_ = new SheetWidget(document_);
    strip_ = new SongStrip(document_, sheet_->state());
    heads_ = new MicHeads(document_, *sheet_);
    takes_ = new TakeStrip(document_, *sheet_, heads_->width());
    proof_ = new ProofPanel(document_);
    print_ = new PrintPanel(document_, *sheet_);
    kit_ = new KitPanel(document_);
    map_ = new MapPanel(document_);
    hitsPanel_ = new HitsPanel(document_);
    takesPanel_ = new TakesPanel(document_, *takes_);
    timing_ = new TimingPanel(document_, *sheet_);
    seams_ = new SeamsPanel(document_, *sheet_);
    perStop_ = {kit_, map_, takesPanel_, hitsPanel_, timing_, seams_, proof_, print_};
    versions_ = new VersionsPanel(document_);
    panels_ = new QStackedWidget;
    for (Panel* panel : perStop_) { // on a low screen they scroll
        auto* scroll = new QScrollArea;
        scroll->setWidget(panel);
        scroll->setWidgetResizable(true);
        scroll->setFrameShape(QFrame::NoFrame);
        scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
        scroll->setFocusPolicy(Qt::NoFocus);
        panels_->addWidget(scroll);
    }
    panels_->addWidget(versions_);

    auto* separator = new QAction(this);
    separator->setSeparator(true);
    bar_ = new TransportBar(
        document_, {play_, loop_, click_, separator, hearLanded_, separator, shows_[0], shows_[1], shows_[2]});

    auto* middle = new QHBoxLayout;
    middle->setSpacing(0);
    middle->addWidget(heads_);
    middle->addWidget(sheet_, 1);
    auto* music = new QVBoxLayout;
    music->setSpacing(0);
    music->addWidget(takes_);
    music->addLayout(middle, 1);
    auto* across = new QHBoxLayout;
    across->setSpacing(0);
    across->addLayout(music, 1);
    across->addWidget(panels_);
    auto* column = new QVBoxLayout;
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addWidget(stops_);
    column->addWidget(strip_);
    column->addLayout(across, 1);
    column->addWidget(bar_);
    auto* central = new QWidget;
    central->setLayout(column);
    setCentralWidget(central);
    // The frame around the window wants room as well.
    resize(QSize(1280, 800).boundedTo(screen()->availableSize() - QSize(8, 40)));
    sheet_->setFocus();
}

void MainWindow::connectParts() {
    connect(stops_, &StopLine::chosen, this, [this](int stop) { goTo(static_cast<Stop>(stop)); });
    connect(&document_, &Document::changed, this, &MainWindow::refreshStates);
    connect(&document_, &Document::fileChanged, this, &MainWindow::retitle);
    connect(&document_.history(), &QUndoStack::indexChanged, this, &MainWindow::retitle);
    connect(&document_, &Document::refused, this, &MainWindow::tell);
    connect(&document_, &Document::notified, this, &MainWindow::tell);
    connect(&document_.work(), &BackgroundWork::progressed, bar_, &TransportBar::setProgress);
    connect(&document_.work(), &BackgroundWork::finished, this, [this] { bar_->setProgress(1, {}); });
    connect(bar_, &TransportBar::stopWork, this, [this] {
        document_.work().stop();
        bar_->setProgress(1, {});
    });
    connect(sheet_, &SheetWidget::folderWanted, &files_, &ProjectFiles::openFolder);
    connect(sheet_, &SheetWidget::demoWanted, &files_, &ProjectFiles::openDemo);
    connect(sheet_, &SheetWidget::axisChanged, strip_, qOverload<>(&QWidget::update));
    connect(sheet_, &SheetWidget::pointedAt, bar_, &TransportBar::setPointer);
    connect(sheet_, &SheetWidget::placeChosen, this, [this](ResultFrame at) { player_->setCursor(at); });
    connect(sheet_, &SheetWidget::loopChosen, this, [this](Range<ResultFrame> loop) {
        player_->setLoop(loop);
        loop_->setChecked(true);
    });
    connect(strip_, &SongStrip::wentTo, this, [this](ResultFrame at) {
        const auto& axis = sheet_->state().axis;
        const double half = axis.width() * axis.framesPerPixel() / 2;
        sheet_->showRange(static_cast<double>(at.frame) - half, static_cast<double>(at.frame) + half);
    });
    connect(player_.get(), &PlayerControl::moved, this, [this](ResultFrame at, bool playing) {
        sheet_->setPlayhead(at, playing);
        strip_->setPlayhead(at);
        bar_->setPosition(at);
    });
    connect(player_.get(), &PlayerControl::stateChanged, this,
            [this] { play_->setText(player_->playing() ? tr("Stop") : tr("Play")); });
    connect(player_.get(), &PlayerControl::notified, this, &MainWindow::tell);
    connect(player_.get(), &PlayerControl::interrupted, bar_, &TransportBar::setInterruption);
    connect(&hitsPanel_->table(), &HitsTable::chosen, this, [this](const auto& hits, HitIndex current) {
        sheet_->reveal(sheet_->state().landingOf(current));
        sheet_->selectMany(hits, current);
    });
    connect(sheet_, &SheetWidget::hitSelected, this,
            [this] { hitsPanel_->table().showChosen(sheet_->state().selection); });
    connect(&seams_->table(), &SeamsTable::chosen, this,
            [this](const auto& seams, SeamIndex current) { sheet_->chooseSeams(seams, current, true); });
    connect(sheet_, &SheetWidget::seamsChosen, seams_, &SeamsPanel::showChosen);
    connect(hitsPanel_, &HitsPanel::bandsWanted, player_.get(), &PlayerControl::monitorBands);
    connect(print_, &PrintPanel::stateChanged, this, &MainWindow::refreshStates);
    connect(print_, &PrintPanel::notified, this, &MainWindow::tell);
    connect(kit_, &KitPanel::bringInWanted, &kitFiles_, &KitFiles::bringInTakes);
    connect(kit_, &KitPanel::companionWanted, &kitFiles_, &KitFiles::addCompanion);
    connect(kit_, &KitPanel::keepWanted, &kitFiles_, &KitFiles::keepKit);
    connect(kit_, &KitPanel::useWanted, &kitFiles_, &KitFiles::chooseKit);
    connect(map_, &MapPanel::originFromSelection, this, &MainWindow::originFromSelection);
    connect(map_, &MapPanel::sectionWanted, this, &MainWindow::sectionFromLoop);
    connect(map_, &MapPanel::notified, this, &MainWindow::tell);
    connect(timing_, &TimingPanel::notified, this, &MainWindow::tell);
}

void MainWindow::connectFiles() {
    connect(&kitFiles_, &KitFiles::notified, this, &MainWindow::tell);
    connect(&files_, &ProjectFiles::notified, this, &MainWindow::tell);
    connect(&files_, &ProjectFiles::aboutToOpen, this, [this] {
        notice_.clear();
        player_->stop();
    });
    connect(&files_, &ProjectFiles::opened, this, [this] {
        sheet_->select(std::nullopt);
        sheet_->showAll();
        player_->setLoop({});
        player_->setCursor(ResultFrame{0});
    });
}

void MainWindow::connectTakes() {
    connect(takes_, &TakeStrip::pointedAt, bar_, &TransportBar::setPointer);
    connect(takes_, &TakeStrip::placeChosen, this, [this](ResultFrame at) { player_->setCursor(at); });
    connect(player_.get(), &PlayerControl::moved, takes_, [this](ResultFrame at) { takes_->setPlayhead(at); });
    connect(takesPanel_, &TakesPanel::triggered, this, [this](const char* name) {
        if (auto* action = findChild<QAction*>(QLatin1String(name)))
            action->trigger();
    });
    connect(takesPanel_, &TakesPanel::lineUpWanted, takesMenu_, &TakesMenu::lineUp);
    connect(takesMenu_, &TakesMenu::notified, this, &MainWindow::tell);
    connect(versions_, &VersionsPanel::monitorWanted, this,
            [this](const Monitored& what) { player_->monitor(what); });
    connect(player_.get(), &PlayerControl::stateChanged, this,
            [this] { versions_->showMonitored(player_->monitored()); });
    connect(versions_, &VersionsPanel::compared, strip_, &SongStrip::setDifferences);
    connect(versions_, &VersionsPanel::placeChosen, this, [this](ResultFrame at) {
        sheet_->reveal(at);
        player_->setCursor(at);
    });
    print_->sound().setLoop([this] { return player_->loop(); });
    connect(print_, &PrintPanel::heardChanged, this, [this] {
        player_->playNotes(print_->notes().heard() ? std::optional(print_->notes().as()) : std::nullopt);
    });
    connect(print_, &PrintPanel::printed, this, [this](const QString& folder) {
        const QString now = QDateTime::currentDateTime().toString(QStringLiteral("yyyy-MM-dd hh:mm"));
        document_.perform(
            KeepVersion{tr("Print of %1").arg(now).toStdString(), now.toStdString(), folder.toStdString()});
    });
}

void MainWindow::refreshStates() {
    for (std::size_t stop = 0; stop < perStop_.size(); ++stop)
        stops_->setState(static_cast<int>(stop), perStop_[stop]->state());
}

void MainWindow::retitle() {
    const QString title =
        document_.session().empty() ? QString() : QString::fromStdString(document_.session().title);
    setWindowTitle(title.isEmpty() ? QStringLiteral("Lampo") : tr("%1[*] — Lampo").arg(title));
    setWindowModified(!title.isEmpty() && document_.modified());
}

/// Said in the window's foot, where it stays until something else is said; nothing has to be clicked away.
void MainWindow::tell(const QString& sentence) {
    notice_ = sentence;
    bar_->setNotice(sentence + QStringLiteral("."));
}

void MainWindow::playOnce(Range<ResultFrame> stretch) {
    loop_->setChecked(false);
    player_->playStretch(stretch);
}

void MainWindow::playOver(Range<ResultFrame> stretch) {
    player_->setLoop(stretch);
    loop_->setChecked(true);
    player_->setCursor(stretch.begin);
    if (!player_->playing())
        player_->toggle();
}

void MainWindow::setAsking(bool asking) {
    kitFiles_.setAsking(asking);
    print_->setAsking(asking);
}

void MainWindow::goTo(Stop stop) {
    stops_->setCurrent(static_cast<int>(stop));
    panels_->setCurrentIndex(static_cast<int>(stop));
    sheet_->setShowsCandidates(stop == Stop::hits);
    sheet_->setChoosesSeams(stop == Stop::seams);
    takes_->setVisible(stop == Stop::takes);
    widenFor(stop == Stop::hits || stop == Stop::kit || stop == Stop::takes || stop == Stop::map);
    const int letters = stop == Stop::seams ? 53 : stop == Stop::timing || stop == Stop::proof ? 46 : 0;
    if (letters > 0)
        panels_->setFixedWidth(QFontMetrics(textFont()).averageCharWidth() * letters);
}

/// Tables want room.
void MainWindow::widenFor(bool table) {
    panels_->setFixedWidth(QFontMetrics(textFont()).averageCharWidth() * (table ? 60 : 38));
}

void MainWindow::showVersions() {
    panels_->setCurrentWidget(versions_);
    widenFor(true);
}

void MainWindow::setShow(Show show) {
    shows_[static_cast<std::size_t>(show)]->setChecked(true);
    sheet_->setShow(show);
}

void MainWindow::setNight(bool night) {
    const Ink ink = night ? nightInk() : paperInk();
    qApp->setPalette(ink.palette());
    qApp->setStyleSheet(controlStyle(ink));
    sheet_->setInk(ink);
    heads_->setInk(ink);
    stops_->setInk(ink);
    strip_->update();
    bar_->setStyleSheet(
        QStringLiteral("QToolButton { border: 1px solid %1; background: %2; color: %3; padding: 3px 10px; }"
                       "QToolButton:checked { background: %3; color: %2; }"
                       "QToolButton:focus { border: 1px solid %4; }")
            .arg(ink.rule.name(), ink.paper.name(), ink.text.name(), ink.accent.name()));
}

void MainWindow::closeEvent(QCloseEvent* event) {
    if (!files_.mayDiscard())
        return event->ignore();
    QSettings settings;
    settings.setValue(QLatin1String(names::windowGeometry), saveGeometry());
    settings.setValue(QLatin1String(names::windowStop), stops_->current());
    settings.setValue(QLatin1String(names::windowNight), night_->isChecked());
    player_->stop();
    document_.giveUp(); // it is saved, or was said not to be wanted
    document_.close();
    event->accept();
}

void MainWindow::restore() {
    const QSettings settings;
    restoreGeometry(settings.value(QLatin1String(names::windowGeometry)).toByteArray());
    const int stop = settings.value(QLatin1String(names::windowStop), 0).toInt();
    goTo(static_cast<Stop>(std::clamp(stop, 0, static_cast<int>(perStop_.size()) - 1)));
    night_->setChecked(settings.value(QLatin1String(names::windowNight), false).toBool());
    setNight(night_->isChecked());
}

void MainWindow::dragEnterEvent(QDragEnterEvent* event) {
    if (event->mimeData()->hasUrls() && event->mimeData()->urls().front().isLocalFile())
        event->acceptProposedAction();
}

void MainWindow::dropEvent(QDropEvent* event) {
    std::vector<std::filesystem::path> dropped;
    for (const QUrl& url : event->mimeData()->urls())
        dropped.emplace_back(url.toLocalFile().toStdString());
    if (!document_.session().empty() && !isProject(dropped.front()))
        return kitFiles_.bringIn(dropped);
    // A file of a take stands for its folder.
    const auto& first = dropped.front();
    files_.open(std::filesystem::is_directory(first) || isProject(first) ? first : first.parent_path());
}

} // namespace lampo
