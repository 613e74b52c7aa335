#include "app/window_rig.h"
#include "project/project_file.h"
#include "shell/shots.h"
#include "stops/hits_panel.h"
#include "stops/print/print_panel.h"
#include "stops/proof/proof_panel.h"

#include <QAbstractScrollArea>
#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QDragEnterEvent>
#include <QDropEvent>
#include <QLineEdit>
#include <QMimeData>
#include <QPushButton>
#include <QSlider>
#include <QToolButton>

using namespace lampo;
using namespace lampo::test;

/// The real window, driven by mouse and keys.
class TestWindow : public WindowRig {
    Q_OBJECT

    QPoint landedHead(std::size_t hit) {
        return {
            static_cast<int>(state().axis.toX(static_cast<double>(document().outcome().landings[hit].at.frame))),
            state().layout.ladderLandedY()};
    }

private slots:
    void initTestCase() { makeTake({"kick_in", "snare_top", "tom_rack", "overhead_left"}); }
    void init() {
        openWindow();
        QVERIFY(document().outcome().landings.size() > 30);
    }
    void cleanup() { window_.reset(); }

    void anEmptyWindowTeaches() {
        MainWindow fresh(std::make_unique<HandDevice>());
        fresh.show();
        QVERIFY(fresh.document().session().empty());
        for (const char* name : {"play", "next-hit", "pin", "print", "save", "zoom-in", "add-hit", "nudge-later"})
            fresh.findChild<QAction*>(QLatin1String(name))->trigger(); // nothing to act on: nothing happens
        QVERIFY(!fresh.grab().isNull());
    }
    void openingTellsWhatIsWrong() {
        QVERIFY(!window_->open(folder_ / "nowhere"));
        QVERIFY(window_->notice().contains("nowhere"));
        QCOMPARE(document().session().mics.size(), std::size_t{4}); // what was open stays open
    }
    void droppingAFolderOpensIt() {
        MainWindow fresh(std::make_unique<HandDevice>());
        fresh.setAsking(false);
        fresh.show();
        QMimeData data;
        data.setUrls({QUrl::fromLocalFile(QString::fromStdString((folder_ / "take").string()))});
        QDragEnterEvent enter({100, 100}, Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(&fresh, &enter);
        QDropEvent drop({100, 100}, Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(&fresh, &drop);
        QCOMPARE(fresh.document().session().mics.size(), std::size_t{4});
    }
    void theWheelZoomsAtThePointer() {
        const QPointF at(300, 300);
        const double held = state().axis.toFrame(at.x());
        const double before = state().axis.framesPerPixel();
        QWheelEvent turn(at, sheet().mapToGlobal(at), {}, {0, 240}, Qt::NoButton, Qt::NoModifier, Qt::NoScrollPhase,
                         false);
        QApplication::sendEvent(&sheet(), &turn);
        QVERIFY(qAbs(state().axis.framesPerPixel() - before / 2) < before * 0.01);
        QVERIFY(qAbs(state().axis.toFrame(at.x()) - held) < 1);
        const double first = state().axis.firstFrame();
        QWheelEvent scroll(at, sheet().mapToGlobal(at), {}, {0, -240}, Qt::NoButton, Qt::ShiftModifier,
                           Qt::NoScrollPhase, false);
        QApplication::sendEvent(&sheet(), &scroll);
        QVERIFY(state().axis.firstFrame() > first);
    }
    void strengthTypedAndDragged() {
        window_->goTo(Stop::timing);
        auto* field = control<QDoubleSpinBox>("Strength");
        field->setFocus();
        field->selectAll();
        QTest::keyClicks(field, "40");
        QTest::keyClick(field, Qt::Key_Return);
        QCOMPARE(document().session().timing.strength, 40.0);
        QCOMPARE(document().history().undoText(), QStringLiteral("Strength 40 %"));

        const int steps = document().history().count();
        auto* slider = control<QSlider>("Strength slider");
        const QPoint middle(slider->width() * 4 / 10, slider->height() / 2);
        QTest::mousePress(slider, Qt::LeftButton, {}, middle);
        for (int x = 0; x < 100; x += 10)
            QTest::mouseMove(slider, middle + QPoint(x, 0));
        QTest::mouseRelease(slider, Qt::LeftButton, {}, middle + QPoint(100, 0));
        QVERIFY(document().session().timing.strength > 60);
        QCOMPARE(document().history().count(), steps + 1); // one drag is one step
        action("undo")->trigger();
        QCOMPARE(document().session().timing.strength, 40.0);
        action("undo")->trigger();
        QCOMPARE(document().session().timing.strength, 100.0);
        action("redo")->trigger();
        QCOMPARE(document().session().timing.strength, 40.0);
        QCOMPARE(field->value(), 40.0);
    }
    void thresholdShowsAtOnce() {
        window_->goTo(Stop::hits);
        control<QComboBox>("Guide")->setCurrentText("snare_top");
        const auto before = document().outcome().hits.size();
        auto* slider = control<QSlider>("Threshold slider");
        slider->setFocus();
        for (int i = 0; i < 32; ++i)
            QTest::keyClick(slider, Qt::Key_Right); // 16 dB up: the ghost notes go
        QVERIFY(document().outcome().hits.size() < before);
        QCOMPARE(document().session().mics[*document().session().micNamed("snare_top")].threshold.value, -14.0);
        action("undo")->trigger();
        QCOMPARE(document().outcome().hits.size(), before);
    }
    void gridMeterGuidesAndSeams() {
        control<QComboBox>("Grid")->setCurrentIndex(1);
        QVERIFY((document().session().timing.grid == NoteValue{1, 8}));
        control<QDoubleSpinBox>("Beats in a bar")->setValue(3);
        QCOMPARE(document().session().map.meters.front().meter.beats, 3);
        control<QDoubleSpinBox>("Bar 1 lies at")->setValue(250);
        QCOMPARE(document().session().map.origin.frame, 12000);
        control<QDoubleSpinBox>("Lead-in")->setValue(5);
        control<QDoubleSpinBox>("Longest fade")->setValue(9.5);
        control<QComboBox>("Holes")->setCurrentIndex(2);
        QVERIFY((document().session().seams == SeamSettings{{5}, {9.5}, Fill::open}));
        auto* guide = control<QCheckBox>("overhead_left guide");
        guide->click();
        QVERIFY(document().session().mics[3].guide);
        settle(); // its candidates are looked for behind the window
        QVERIFY(document().analyses().of(analysisKey(document().session(), document().session().take(), {3})));
        while (document().history().canUndo())
            document().history().undo();
        QVERIFY((document().session().timing == TimingSettings{}) &&
                (document().session().seams == SeamSettings{}));
        QVERIFY(!guide->isChecked());
    }
    void ladderDragMovesAHit() {
        sheet().showRange(48000 * 3, 48000 * 6);
        const std::size_t hit = state().visibleHits().first + 3;
        const SourceFrame anchor = document().outcome().hits[hit].anchor;
        const ResultFrame before = document().outcome().landings[hit].at;
        const QPoint from = landedHead(hit);
        QTest::mousePress(&sheet(), Qt::LeftButton, {}, from);
        QCOMPARE(*state().selected, hit);
        QTest::mouseMove(&sheet(), from + QPoint(9, 0));
        QVERIFY(state().drag && document().outcome().landings[hit].at > before);
        QTest::keyClick(&sheet(), Qt::Key_Escape); // dropped: nothing happened
        QTest::mouseRelease(&sheet(), Qt::LeftButton, {}, from + QPoint(9, 0));
        QCOMPARE(document().outcome().landings[hit].at, before);

        QTest::mousePress(&sheet(), Qt::LeftButton, {}, from);
        QTest::mouseMove(&sheet(), from + QPoint(5, 0));
        QTest::mouseMove(&sheet(), from + QPoint(9, 0));
        QTest::mouseRelease(&sheet(), Qt::LeftButton, {}, from + QPoint(9, 0));
        QCOMPARE(document().outcome().hits[hit].anchor, anchor);
        const auto moved = (document().outcome().landings[hit].at - before).frames;
        QVERIFY(std::abs(static_cast<double>(moved) - 9 * state().axis.framesPerPixel()) <
                state().axis.framesPerPixel());
        QCOMPARE(document().outcome().landings[hit].state, LandingState::pinned);
        action("undo")->trigger();
        QCOMPARE(document().outcome().landings[hit].at, before);
    }
    void plotDragMovesAHit() {
        document().perform(SetStrength{0});
        sheet().showRange(48000 * 3, 48000 * 6);
        const HitIndex hit{state().visibleHits().first + 2};
        const ResultFrame before = document().outcome().landings[hit].at;
        const QPoint from = state().plotPoint(hit, true).toPoint();
        QTest::mousePress(&sheet(), Qt::LeftButton, {}, from);
        QTest::mouseMove(&sheet(), from + QPoint(0, 10));
        QTest::mouseRelease(&sheet(), Qt::LeftButton, Qt::ControlModifier, from + QPoint(0, 10));
        QVERIFY(document().outcome().landings[*state().selected].at > before); // down is late
    }
    void keysDoTheJob() {
        QTest::keyClick(&sheet(), Qt::Key_Right);
        QVERIFY(state().selected);
        QTest::keyClick(&sheet(), Qt::Key_Right);
        const std::size_t hit = *state().selected;
        const auto landing = [&] { return document().outcome().landings[hit]; };
        const ResultFrame before = landing().at;
        const int steps = document().history().count();
        QTest::keyClick(&sheet(), Qt::Key_Right, Qt::AltModifier);
        QTest::keyClick(&sheet(), Qt::Key_Right, Qt::AltModifier);
        QCOMPARE((landing().at - before).frames, 200); // two nudges of 100 samples
        QCOMPARE(document().history().count(), steps + 1);
        QTest::keyClick(&sheet(), Qt::Key_P);
        QCOMPARE(landing().at.frame, landing().played.frame);
        QTest::keyClick(&sheet(), Qt::Key_P, Qt::ShiftModifier);
        QCOMPARE(landing().at, before);
        const auto count = document().outcome().landings.size();
        QTest::keyClick(&sheet(), Qt::Key_Delete);
        QCOMPARE(document().outcome().landings.size(), count - 1);
        QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(document().outcome().landings.size(), count);
        window_->player().setCursor(ResultFrame{48000 * 18 + 7000});
        QTest::keyClick(&sheet(), Qt::Key_A);
        QCOMPARE(document().outcome().landings.size(), count + 1);
        QTest::keyClick(window_.get(), Qt::Key_5, Qt::AltModifier);
        QCOMPARE(window_->findChild<QStackedWidget*>()->currentIndex(), 4);
    }
    void micsAreReorderedByDragging() {
        auto* heads = window_->findChild<QWidget*>(QString(), Qt::FindDirectChildrenOnly);
        for (QWidget* widget : window_->findChildren<QWidget*>())
            if (widget->accessibleName() == "Mics")
                heads = widget;
        const auto& lanes = state().layout.lanes;
        QTest::mousePress(heads, Qt::LeftButton, {}, {60, lanes[1].top() + 4});
        QTest::mouseMove(heads, {60, lanes[0].top() + 4});
        QTest::mouseRelease(heads, Qt::LeftButton, {}, {60, lanes[0].top() + 4});
        QCOMPARE(document().session().mics[0].stem, std::string("snare_top"));
        QCOMPARE(document().session().take().files[0].file.stem().string(), std::string("snare_top"));
        window_->findChild<QToolButton*>("kick_in mute")->click();
        QVERIFY(document().session().mics[1].mute);
        action("undo")->trigger();
        action("undo")->trigger();
        QCOMPARE(document().session().mics[0].stem, std::string("kick_in"));
    }
    void playingSwitchingAndLooping() {
        QTest::keyClick(&sheet(), Qt::Key_Space);
        QVERIFY(window_->player().playing());
        QTRY_VERIFY(window_->player().playing());
        action("hear-landed")->toggle();
        QVERIFY(!window_->player().playsLanded());
        action("click")->toggle();
        document().perform(SetStrength{70}); // the sound follows
        playFor(Milliseconds{300});
        QVERIFY(window_->player().playing());
        QTest::keyClick(&sheet(), Qt::Key_Space);
        QTRY_VERIFY(!window_->player().playing());
        // A loop drawn on the ruler.
        const int y = state().layout.ruler.bottom() - 3;
        QTest::mousePress(&sheet(), Qt::LeftButton, {}, {200, y});
        QTest::mouseMove(&sheet(), {260, y});
        QTest::mouseMove(&sheet(), {300, y});
        QTest::mouseRelease(&sheet(), Qt::LeftButton, {}, {300, y});
        QVERIFY(action("loop")->isChecked());
        QVERIFY(!window_->player().loop().empty());
        QTest::keyClick(&sheet(), Qt::Key_Space);
        QVERIFY(window_->player().loop().contains(window_->player().cursor()));
        QTest::keyClick(&sheet(), Qt::Key_Space);
    }
    void savingAndOpening() {
        document().perform(SetStrength{55});
        QVERIFY(window_->isWindowModified());
        const auto file = folder_ / "quay.lampo";
        QVERIFY(document().save(file).has_value());
        QVERIFY(!window_->isWindowModified());
        document().perform(SetStrength{10});
        QVERIFY(window_->isWindowModified());
        action("undo")->trigger();
        QVERIFY(!window_->isWindowModified());
        QVERIFY(window_->open(file));
        settle();
        QCOMPARE(document().session().timing.strength, 55.0);
        QVERIFY(!window_->isWindowModified());
        QVERIFY(!document().history().canUndo());
    }
    void printing() {
        window_->goTo(Stop::print);
        const auto out = folder_ / "printed";
        auto* panel = window_->findChild<PrintPanel*>();
        panel->setFolder(QString::fromStdString(out.string()));
        QTest::mouseClick(control<QPushButton>("Print button"), Qt::LeftButton);
        QVERIFY(panel->printing());
        QTRY_VERIFY_WITH_TIMEOUT(!panel->printing(), 30000);
        QCOMPARE(readAudio(out / "kick_in.wav").size(), std::size_t{20 * 48000});
        panel->setFolder(QString::fromStdString((folder_ / "take").string())); // the recording itself is refused
        panel->start();
        QTRY_VERIFY_WITH_TIMEOUT(!panel->printing(), 30000);
        QVERIFY(window_->notice().contains("never written to"));
    }
    /// They are drawn of the demo, and may be of anything: here of six bars of one take.
    void picturesAreDrawnOfAnyProject() {
        takeShots(*window_, folder_ / "pictures");
        QVERIFY(std::filesystem::exists(folder_ / "pictures" / "empty.png"));
    }
    void picturesDiffer() {
        QImage last;
        for (const char* show : {"show-played", "show-landed", "show-both", "night"}) {
            action(show)->toggle();
            const QImage now = window_->grab().toImage();
            QVERIFY(now != last);
            last = now;
        }
        action("night")->toggle();
    }
    void everyControlHasAName() {
        for (const QWidget* widget : window_->findChildren<QWidget*>()) {
            const bool named =
                !widget->accessibleName().isEmpty() || qobject_cast<const QAbstractButton*>(widget) ||
                widget->focusPolicy() == Qt::NoFocus || widget->objectName().startsWith("qt_") ||
                qobject_cast<const QLineEdit*>(widget) || qobject_cast<const QAbstractScrollArea*>(widget) ||
                widget->inherits("QMenuBar") || widget->inherits("QMenu");
            QVERIFY2(named,
                     qPrintable(QString::fromLatin1(widget->metaObject()->className()) + widget->objectName()));
        }
    }
};

QTEST_MAIN(TestWindow)
#include "tst_window.moc"
