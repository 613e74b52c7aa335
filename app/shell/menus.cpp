#include "deliver/click_file.h"

#include "base/text.h"
#include "demo_kit/demo_recording.h"
#include "look/file_to_write.h"
#include "shell/click_page.h"
#include "shell/hit_menu.h"
#include "shell/main_window.h"
#include "shell/player_control.h"
#include "shell/shortcuts_page.h"
#include "shell/takes_menu.h"
#include "stops/map/map_panel.h"
#include "stops/print_panel.h"
#include "stops/proof_panel.h"
#include "stops/timing/hand_page.h"
#include "stops/timing/timing_panel.h"
#include "stops/versions_panel.h"

#include <QActionGroup>
#include <QApplication>
#include <QFileDialog>
#include <QMenuBar>
#include <QMessageBox>
#include <QSettings>
#include <QStandardPaths>
#include <QUndoView>

#include <cmath>

namespace lampo {

void MainWindow::buildFileMenu() {
    QMenu* menu = menuBar()->addMenu(tr("&File"));
    menu->addAction(actions_.add(QStringLiteral("open-folder"), tr("Open a &folder…"),
                                 QKeySequence(tr("Ctrl+Shift+O")), [this] { openFolder(); }));
    menu->addAction(actions_.add(QStringLiteral("open-project"), tr("&Open a project…"), QKeySequence::Open,
                                 [this] { openProject(); }));
    recent_ = menu->addMenu(tr("&Recent"));
    menu->addAction(actions_.add(QStringLiteral("open-demo"), tr("Open the &demo"), {}, [this] { openDemo(); }));
    menu->addSeparator();
    menu->addAction(
        actions_.add(QStringLiteral("bring-in"), tr("&Bring in takes…"), {}, [this] { bringInTakes(); }));
    menu->addAction(
        actions_.add(QStringLiteral("add-companion"), tr("Add a &companion…"), {}, [this] { addCompanion(); }));
    menu->addAction(
        actions_.add(QStringLiteral("sources"), tr("F&iles of the recording…"), {}, [this] { showSources(); }));
    menu->addAction(actions_.add(QStringLiteral("import-map"), tr("Map &from a MIDI file…"), {},
                                 [this] { map_->chooseImport(); }));
    menu->addAction(actions_.add(QStringLiteral("export-map"), tr("Map &to a MIDI file…"), {},
                                 [this] { map_->chooseExport(); }));
    menu->addAction(
        actions_.add(QStringLiteral("write-click"), tr("C&lick to a file…"), {}, [this] { chooseClick(); }));
    menu->addAction(actions_.add(QStringLiteral("keep-kit"), tr("&Keep this kit…"), {}, [this] { keepKit(); }));
    menu->addAction(actions_.add(QStringLiteral("use-kit"), tr("&Use a kept kit…"), {}, [this] { useKit(); }));
    menu->addSeparator();
    menu->addAction(actions_.add(QStringLiteral("save"), tr("&Save"), QKeySequence::Save, [this] { save(); }));
    menu->addAction(actions_.add(QStringLiteral("save-as"), tr("Save &as…"), QKeySequence(tr("Ctrl+Shift+S")),
                                 [this] { saveAs(); }));
    earlier_ = menu->addMenu(tr("&Earlier saves"));
    earlier_->setObjectName(QStringLiteral("Earlier saves"));
    connect(menu, &QMenu::aboutToShow, this, &MainWindow::fillEarlier);
    menu->addAction(actions_.add(QStringLiteral("print"), tr("&Print the mics"), QKeySequence::Print, [this] {
        goTo(Stop::print);
        print_->start();
    }));
    menu->addSeparator();
    menu->addAction(actions_.add(QStringLiteral("quit"), tr("&Quit"), QKeySequence::Quit, [this] { close(); }));
}

void MainWindow::buildEditMenu() {
    QMenu* menu = menuBar()->addMenu(tr("&Edit"));
    const auto history = [&](const char* name, QAction* action, QKeySequence::StandardKey key) {
        action->setObjectName(QLatin1String(name));
        action->setShortcut(key);
        menu->addAction(action);
    };
    history("undo", document_.history().createUndoAction(this, tr("&Undo")), QKeySequence::Undo);
    history("redo", document_.history().createRedoAction(this, tr("&Redo")), QKeySequence::Redo);
    menu->addAction(actions_.add(QStringLiteral("history"), tr("&History…"), QKeySequence(tr("Ctrl+H")), [this] {
        auto* view = new QUndoView(&document_.history(), this);
        view->setWindowFlag(Qt::Tool);
        view->setAttribute(Qt::WA_DeleteOnClose);
        view->setWindowTitle(tr("History"));
        view->setEmptyLabel(tr("as opened"));
        view->resize(280, 360);
        view->show();
    }));
}

void MainWindow::buildHitMenu() {
    auto* menu = new QMenu(tr("H&its"), this);
    menuBar()->insertMenu(viewMenu_->menuAction(), menu);
    hits_ = new HitMenu(menu, actions_, document_, *sheet_, timing_->byHand(), *player_);
    connect(hits_, &HitMenu::troubled, this, &MainWindow::tell);
}

void MainWindow::buildTakesMenu() {
    auto* menu = new QMenu(tr("&Takes"), this);
    menuBar()->insertMenu(viewMenu_->menuAction(), menu);
    takesMenu_ = new TakesMenu(menu, actions_, document_, *takes_, *sheet_, *player_);
    menu->addSeparator();
    menu->addAction(actions_.add(QStringLiteral("versions"), tr("&Versions"), QKeySequence(tr("V")),
                                 [this] { showVersions(); }));
    menu->addAction(actions_.add(QStringLiteral("keep-version"), tr("&Keep this version"),
                                 QKeySequence(tr("Ctrl+K")), [this] { versions_->keep(); }));
    menu->addAction(actions_.add(QStringLiteral("hear-other"), tr("Hear the other version, or the edit again"),
                                 QKeySequence(tr("Shift+V")), [this] { versions_->hearOther(); }));
    menu->addAction(actions_.add(QStringLiteral("hear-take"), tr("&Hear the take as recorded, or the edit again"),
                                 QKeySequence(tr("Shift+H")), [this] { hearTake(); }));
}

/// That of the chosen row, or the one that sounds at the cursor.
void MainWindow::hearTake() {
    const Session& session = document_.session();
    if (session.empty())
        return;
    if (player_->heard().kind == Heard::Kind::take)
        return void(player_->hear({}));
    const auto& passages = session.comp.passages;
    const auto sounding = passages[session.comp.at(SongFrame{player_->cursor().frame})].take;
    const std::size_t take = takes_->state().row.value_or(sounding.value_or(0));
    if (player_->hear({Heard::Kind::take, take}))
        tell(tr("Take %1 as it was recorded").arg(QLatin1Char(session.takes[take].letter)));
}

void MainWindow::buildViewMenu() {
    QMenu* menu = menuBar()->addMenu(tr("&View"));
    viewMenu_ = menu;
    auto* group = new QActionGroup(this);
    const std::array<std::pair<const char*, QString>, 3> shows{
        {{"show-played", tr("Played")}, {"show-landed", tr("Landed")}, {"show-both", tr("Both")}}};
    for (std::size_t i = 0; i < shows.size(); ++i) {
        auto* action = actions_.addSwitch(QLatin1String(shows[i].first), shows[i].second,
                                          QKeySequence(tr("Ctrl+%1").arg(i + 1)), i == 2, [this, i](bool on) {
                                              if (on && sheet_)
                                                  sheet_->setShow(static_cast<Show>(i));
                                          });
        action->setToolTip(tr("Draw the lanes as played, as landed, or one above the other"));
        group->addAction(action);
        menu->addAction(action);
        shows_.push_back(action);
    }
    menu->addSeparator();
    menu->addAction(actions_.add(QStringLiteral("zoom-in"), tr("Zoom &in"), QKeySequence(Qt::Key_Up),
                                 [this] { sheet_->zoomBy(0.5); }));
    menu->addAction(actions_.add(QStringLiteral("zoom-out"), tr("Zoom &out"), QKeySequence(Qt::Key_Down),
                                 [this] { sheet_->zoomBy(2); }));
    menu->addAction(actions_.add(QStringLiteral("whole-song"), tr("&Whole song"), QKeySequence(Qt::Key_Home),
                                 [this] { sheet_->showAll(); }));
    auto* strokes =
        actions_.addSwitch(QStringLiteral("all-strokes"), tr("&Strokes of every drum"),
                           QKeySequence(tr("Ctrl+Shift+E")), false, [this](bool on) { sheet_->setAllStrokes(on); });
    strokes->setToolTip(
        tr("Show in their lanes, faint, the strokes of hats and cymbals and of all that does not guide"));
    menu->addAction(strokes);
    menu->addSeparator();
    night_ = actions_.addSwitch(QStringLiteral("night"), tr("&Night"), QKeySequence(tr("Ctrl+Shift+N")), false,
                                [this](bool on) { setNight(on); });
    menu->addAction(night_);
}

void MainWindow::buildGoMenu() {
    QMenu* menu = menuBar()->addMenu(tr("&Go"));
    menu->addAction(actions_.add(QStringLiteral("next-hit"), tr("&Next hit"), QKeySequence(Qt::Key_Right),
                                 [this] { hits_->stepHit(1); }));
    menu->addAction(actions_.add(QStringLiteral("previous-hit"), tr("&Previous hit"), QKeySequence(Qt::Key_Left),
                                 [this] { hits_->stepHit(-1); }));
    menu->addAction(actions_.add(QStringLiteral("next-place"), tr("Next proof p&lace"), QKeySequence(tr("F8")),
                                 [this] { proof_->go(1); }));
    menu->addAction(actions_.add(QStringLiteral("previous-place"), tr("Previous proof pla&ce"),
                                 QKeySequence(tr("Shift+F8")), [this] { proof_->go(-1); }));
    menu->addSeparator();
    const QStringList stops{tr("Kit"),    tr("Map"),   tr("Takes"), tr("Hits"),
                            tr("Timing"), tr("Seams"), tr("Proof"), tr("Print")};
    for (int i = 0; i < stops.size(); ++i)
        menu->addAction(actions_.add(QStringLiteral("stop-%1").arg(i + 1), stops[i],
                                     QKeySequence(tr("Alt+%1").arg(i + 1)),
                                     [this, i] { goTo(static_cast<Stop>(i)); }));
}

void MainWindow::buildListenMenu() {
    QMenu* menu = menuBar()->addMenu(tr("&Listen"));
    play_ = actions_.add(QStringLiteral("play"), tr("Play"), QKeySequence(Qt::Key_Space),
                         [this] { player_->toggle(); });
    loop_ = actions_.addSwitch(QStringLiteral("loop"), tr("Loop"), QKeySequence(tr("L")), false, [this](bool on) {
        player_->setLooping(on);
        sheet_->setLoop(on ? player_->loop() : Range<ResultFrame>{});
    });
    click_ = actions_.addSwitch(QStringLiteral("click"), tr("Click"), QKeySequence(tr("K")), false,
                                [this](bool on) { player_->setClick(on); });
    hearLanded_ = actions_.addSwitch(QStringLiteral("hear-landed"), tr("Hear as landed"), QKeySequence(tr("H")),
                                     true, [this](bool on) { player_->hearLanded(on); });
    hearLanded_->setToolTip(tr("Hear the result, or the take as it was played"));
    menu->addActions({play_, loop_, click_, hearLanded_});
    menu->addAction(
        actions_.add(QStringLiteral("to-start"), tr("Back to the &start"), QKeySequence(tr("Ctrl+Home")), [this] {
            player_->setCursor({0});
            sheet_->reveal({0});
        }));
}

void MainWindow::buildHelpMenu() {
    QMenu* menu = menuBar()->addMenu(tr("&Help"));
    menu->addAction(actions_.add(QStringLiteral("shortcuts"), tr("&Shortcuts…"), QKeySequence::HelpContents,
                                 [this] { ShortcutsPage(actions_.all(), this).exec(); }));
    menu->addAction(actions_.add(QStringLiteral("about"), tr("&About Lampo"), {}, [this] {
        QMessageBox::about(
            this, tr("About Lampo"),
            tr("<p><b>Lampo</b> %1 makes a drummer's multitrack recording tight.</p><p>Sound goes to: %2.</p>"
               "<p>Free software under the GNU General Public License, version 3 or later. Set in Charis SIL (SIL "
               "Open Font License).</p>")
                .arg(QApplication::applicationVersion(), player_->deviceName()));
    }));
}

void MainWindow::chooseClick() {
    ClickPage page(this);
    if (page.exec() != QDialog::Accepted)
        return;
    const QString file = fileToWrite(this, tr("Click to"), {}, tr("WAV files (*.wav)"), QStringLiteral("wav"));
    if (!file.isEmpty())
        writeClickTo(file, page.settings());
}

void MainWindow::writeClickTo(const QString& file, const ClickSettings& settings) {
    const auto written = document_.protectedFiles().mayWrite(file.toStdString()).and_then([&] {
        return writeClick(document_.session(), settings, file.toStdString(), SampleFormat::wav24, {});
    });
    tell(written ? tr("The click is in %1").arg(file) : QString::fromStdString(written.error().sentence));
}

void MainWindow::openFolder() {
    const QString folder = QFileDialog::getExistingDirectory(this, tr("Folder of one take"));
    if (!folder.isEmpty())
        open(folder.toStdString());
}

void MainWindow::openProject() {
    const QString file =
        QFileDialog::getOpenFileName(this, tr("Open a project"), {}, tr("Lampo projects (*.lampo)"));
    if (!file.isEmpty())
        open(file.toStdString());
}

/// Made when it is not there yet, off the window's thread: it takes a few seconds.
void MainWindow::openDemo() {
    const std::filesystem::path folder =
        (QStandardPaths::writableLocation(QStandardPaths::GenericDataLocation) + QStringLiteral("/lampo/demo"))
            .toStdString();
    const auto project = folder / "lighthouse_relay.lampo";
    if (std::filesystem::exists(project)) {
        open(project);
        return;
    }
    tell(tr("The demo recording is being made, which takes a few seconds"));
    demoMaker_ = std::jthread([this, folder, project] {
        const auto made = demo::writeDemo(folder);
        const QString error = made ? QString() : QString::fromStdString(made.error().sentence);
        QMetaObject::invokeMethod(
            this, [=, this] { error.isEmpty() ? (void)open(project) : tell(error); }, Qt::QueuedConnection);
    });
}

bool MainWindow::save() {
    if (document_.session().empty())
        return false;
    if (document_.file().empty())
        return saveAs();
    return saveTo(document_.file());
}

bool MainWindow::saveTo(const std::filesystem::path& file) {
    auto saved = document_.save(file);
    if (!saved && saved.error().kind == ErrorKind::changedOnDisk && asking_ &&
        QMessageBox::question(this, tr("Changed on the disk"),
                              QString::fromStdString(saved.error().sentence) + tr(". Save over it?"),
                              QMessageBox::Save | QMessageBox::Cancel, QMessageBox::Cancel) == QMessageBox::Save)
        saved = document_.save(file, true);
    if (!saved) {
        tell(QString::fromStdString(saved.error().sentence));
        return false;
    }
    remember(document_.file());
    return true;
}

bool MainWindow::saveAs() {
    if (document_.session().empty())
        return false;
    const auto usual =
        document_.session().take().folder.parent_path() / (asFileName(document_.session().title) + ".lampo");
    const QString file = fileToWrite(this, tr("Save the project"), QString::fromStdString(usual.string()),
                                     tr("Lampo projects (*.lampo)"), QStringLiteral("lampo"));
    return !file.isEmpty() && saveTo(file.toStdString());
}

void MainWindow::remember(const std::filesystem::path& input) {
    QSettings settings;
    QStringList recent = settings.value(QStringLiteral("recent")).toStringList();
    const QString entry = QString::fromStdString(std::filesystem::absolute(input).string());
    recent.removeAll(entry);
    recent.prepend(entry);
    settings.setValue(QStringLiteral("recent"), recent.mid(0, 10));
    fillRecent();
}

void MainWindow::fillRecent() {
    recent_->clear();
    for (const QString& entry : QSettings().value(QStringLiteral("recent")).toStringList())
        recent_->addAction(entry, this, [this, entry] { open(entry.toStdString()); });
    recent_->setEnabled(!recent_->isEmpty());
}

/// The whole bars that the loop touches, or the beats where it lies inside one bar; named by where they begin.
/// Sections in its way give way.
void MainWindow::sectionFromLoop() {
    const Session& session = document_.session();
    const auto loop = player_->loop();
    if (session.empty() || loop.empty())
        return tell(tr("Draw a loop on the ruler over the bars or beats of the section first"));
    const MusicalMap map(session.map, session.rate);
    const BarBeat begin = map.barBeat(SongFrame{loop.begin.frame});
    const BarBeat last = map.barBeat(SongFrame{loop.end.frame} - FrameCount{1});
    Section section{tr("Bar %1").arg(begin.bar).toStdString(), begin.bar, last.bar + 1 - begin.bar, {}, {}};
    const int first = static_cast<int>(begin.beat), end = static_cast<int>(last.beat) + 1;
    if (begin.bar == last.bar && end - first < map.meterOf(begin.bar).beats) {
        section.beats = BeatRange{first, end - first};
        section.name = tr("Bar %1.%2").arg(begin.bar).arg(first).toStdString();
    }
    document_.perform(SetSections{withSection(session.sections, section), "Section at " + section.name});
}

void MainWindow::originFromSelection() {
    const auto selected = sheet_->state().selected;
    if (!selected)
        return tell(tr("Choose the hit that is bar 1, beat 1 first"));
    document_.perform(SetOrigin{document_.outcome().landings[*selected].played});
}

} // namespace lampo
