#include "document/player_control.h"
#include "shell/hit_menu.h"
#include "shell/main_window.h"
#include "shell/proof_menu.h"
#include "shell/repair_menu.h"
#include "shell/seam_menu.h"
#include "shell/shortcuts_page.h"
#include "stops/map/map_panel.h"
#include "stops/print/print_panel.h"
#include "stops/proof/proof_panel.h"
#include "stops/seams/seams_panel.h"
#include "stops/timing/hand_page.h"
#include "stops/timing/timing_panel.h"
#include "stops/versions_panel.h"
#include "takes/takes_menu.h"

#include <QActionGroup>
#include <QApplication>
#include <QMenuBar>
#include <QMessageBox>
#include <QUndoView>

#include <cmath>

namespace lampo {

void MainWindow::buildFileMenu() {
    QMenu* menu = menuBar()->addMenu(tr("&File"));
    menu->addAction(actions_.add(QStringLiteral("open-folder"), tr("Open a &folder…"),
                                 QKeySequence(tr("Ctrl+Shift+O")), [this] { files_.openFolder(); }));
    menu->addAction(actions_.add(QStringLiteral("open-project"), tr("&Open a project…"), QKeySequence::Open,
                                 [this] { files_.openProject(); }));
    QMenu* recent = menu->addMenu(tr("&Recent"));
    menu->addAction(
        actions_.add(QStringLiteral("open-demo"), tr("Open the &demo"), {}, [this] { files_.openDemo(); }));
    menu->addSeparator();
    menu->addAction(
        actions_.add(QStringLiteral("bring-in"), tr("&Bring in takes…"), {}, [this] { kitFiles_.bringInTakes(); }));
    menu->addAction(actions_.add(QStringLiteral("add-companion"), tr("Add a &companion…"), {},
                                 [this] { kitFiles_.addCompanion(); }));
    menu->addAction(actions_.add(QStringLiteral("sources"), tr("F&iles of the recording…"), {},
                                 [this] { kitFiles_.showSources(); }));
    menu->addAction(actions_.add(QStringLiteral("import-map"), tr("Map &from a MIDI file…"), {},
                                 [this] { map_->chooseImport(); }));
    menu->addAction(actions_.add(QStringLiteral("export-map"), tr("Map &to a MIDI file…"), {},
                                 [this] { map_->chooseExport(); }));
    menu->addAction(actions_.add(QStringLiteral("write-click"), tr("C&lick to a file…"), {},
                                 [this] { kitFiles_.chooseClick(); }));
    menu->addAction(
        actions_.add(QStringLiteral("keep-kit"), tr("&Keep this kit…"), {}, [this] { kitFiles_.keepKit(); }));
    menu->addAction(
        actions_.add(QStringLiteral("use-kit"), tr("&Use a kept kit…"), {}, [this] { kitFiles_.chooseKit(); }));
    menu->addSeparator();
    menu->addAction(
        actions_.add(QStringLiteral("save"), tr("&Save"), QKeySequence::Save, [this] { files_.save(); }));
    menu->addAction(actions_.add(QStringLiteral("save-as"), tr("Save &as…"), QKeySequence(tr("Ctrl+Shift+S")),
                                 [this] { files_.saveAs(); }));
    QMenu* earlier = menu->addMenu(tr("&Earlier saves"));
    earlier->setObjectName(QStringLiteral("Earlier saves"));
    connect(menu, &QMenu::aboutToShow, this, [this, recent, earlier] {
        files_.fillRecent(*recent);
        files_.fillEarlier(*earlier);
    });
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
    hits_ = new HitMenu({menu, actions_}, document_, *sheet_, timing_->byHand(), *player_);
    connect(hits_, &HitMenu::notified, this, &MainWindow::tell);
}

void MainWindow::buildSeamMenu() {
    auto* menu = new QMenu(tr("&Seams"), this);
    menuBar()->insertMenu(viewMenu_->menuAction(), menu);
    auto* seams = new SeamMenu({menu, actions_}, document_, *sheet_, *player_, seams_->listening());
    connect(seams, &SeamMenu::stopWanted, this, [this] { goTo(Stop::seams); });
    connect(seams, &SeamMenu::notified, this, &MainWindow::tell);
    connect(seams, &SeamMenu::stretchWanted, this, &MainWindow::playOnce);
    connect(seams, &SeamMenu::loopWanted, this, &MainWindow::playOver);
}

void MainWindow::buildProofMenu() {
    auto* menu = new QMenu(tr("Proo&f"), this);
    menuBar()->insertMenu(viewMenu_->menuAction(), menu);
    auto* proof = new ProofMenu({menu, actions_}, document_, *proof_, *sheet_, *player_);
    connect(proof, &ProofMenu::stopWanted, this, [this] { goTo(Stop::proof); });
    connect(proof, &ProofMenu::stretchWanted, this, &MainWindow::playOnce);
    connect(proof, &ProofMenu::loopWanted, this, &MainWindow::playOver);
    connect(proof_, &ProofPanel::notified, this, &MainWindow::tell);
    connect(proof_, &ProofPanel::stateChanged, this, &MainWindow::refreshStates);
    connect(print_, &PrintPanel::placesWanted, this, [this] { goTo(Stop::proof); });
}

void MainWindow::buildRepairMenu() {
    auto* menu = new QMenu(tr("&Repairs"), this);
    menuBar()->insertMenu(viewMenu_->menuAction(), menu);
    fillRepairMenu({menu, actions_}, *seams_);
    connect(&seams_->strokeRepairs(), &StrokeRepairs::notified, this, &MainWindow::tell);
    connect(&seams_->stretchRepairs(), &StretchRepairs::notified, this, &MainWindow::tell);
    connect(sheet_, &SheetWidget::notified, this, &MainWindow::tell);
    connect(&seams_->strokes(), &StrokesPage::stretchWanted, this, &MainWindow::playOnce);
    connect(&seams_->patches(), &PatchesPage::placeChosen, sheet_, &SheetWidget::reveal);
}

void MainWindow::buildTakesMenu() {
    auto* menu = new QMenu(tr("&Takes"), this);
    menuBar()->insertMenu(viewMenu_->menuAction(), menu);
    takesMenu_ = new TakesMenu({menu, actions_}, document_, *takes_, *sheet_, *player_);
    menu->addSeparator();
    menu->addAction(actions_.add(QStringLiteral("versions"), tr("&Versions"), QKeySequence(tr("V")),
                                 [this] { showVersions(); }));
    menu->addAction(actions_.add(QStringLiteral("keep-version"), tr("&Keep this version"),
                                 QKeySequence(tr("Ctrl+K")), [this] { versions_->keep(); }));
    menu->addAction(actions_.add(QStringLiteral("hear-other"), tr("Hear the other version, or the edit again"),
                                 QKeySequence(tr("Shift+V")), [this] { versions_->monitorOther(); }));
    menu->addAction(actions_.add(QStringLiteral("hear-take"), tr("&Hear the take as recorded, or the edit again"),
                                 QKeySequence(tr("Shift+H")), [this] { monitorTake(); }));
}

/// That of the chosen row, or the one that sounds at the cursor.
void MainWindow::monitorTake() {
    const Session& session = document_.session();
    if (session.empty())
        return;
    if (player_->monitored().kind == Monitored::Kind::take)
        return void(player_->monitor({}));
    const auto& passages = session.comp.passages;
    const auto sounding = passages[session.comp.at(asSong(player_->cursor()))].take;
    const TakeIndex take = takes_->state().row.value_or(sounding.value_or(TakeIndex{}));
    if (player_->monitor({Monitored::Kind::take, take}))
        tell(tr("Take %1 as it was recorded").arg(QLatin1Char(session.takes[take].letter.value)));
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
    menu->addAction(actions_.add(QStringLiteral("waves-higher"), tr("Waves &higher"), QKeySequence(tr("Ctrl+Up")),
                                 [this] { sheet_->heightenWaves(2); }));
    menu->addAction(actions_.add(QStringLiteral("waves-lower"), tr("Waves &lower"), QKeySequence(tr("Ctrl+Down")),
                                 [this] { sheet_->heightenWaves(0.5); }));
    menu->addAction(actions_.add(QStringLiteral("waves-reset"), tr("Waves as high as they f&it"),
                                 QKeySequence(tr("Ctrl+Shift+Down")), [this] { sheet_->resetWaves(); }));
    menu->addAction(actions_.add(QStringLiteral("fit-chosen"), tr("&Fill the width with what is chosen"),
                                 QKeySequence(tr("F")), [this] { sheet_->fitChosen(); }));
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
    menu->addSeparator();
    const QStringList stops = stopNames();
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
                                     true, [this](bool on) { player_->playLanded(on); });
    hearLanded_->setToolTip(tr("Hear the result, or the take as it was played"));
    menu->addActions({play_, loop_, click_, hearLanded_});
    menu->addAction(
        actions_.add(QStringLiteral("to-start"), tr("Back to the &start"), QKeySequence(tr("Ctrl+Home")), [this] {
            player_->setCursor(ResultFrame{0});
            sheet_->reveal(ResultFrame{0});
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

/// The whole bars that the loop touches, or the beats where it lies inside one bar; named by where they begin.
/// Sections in its way give way.
void MainWindow::sectionFromLoop() {
    const Session& session = document_.session();
    const auto loop = player_->loop();
    if (session.empty() || loop.empty())
        return tell(tr("Draw a loop on the ruler over the bars or beats of the section first"));
    const MusicalMap map(session.map, session.rate);
    const BarBeat begin = map.barBeat(asSong(loop.begin));
    const BarBeat last = map.barBeat(asSong(loop.end) - FrameCount{1});
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
