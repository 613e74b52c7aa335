#include "app/window_rig.h"
#include "shell/song_strip.h"
#include "stops/map/map_check_page.h"

#include <QDoubleSpinBox>
#include <QLabel>
#include <QMenu>
#include <QPushButton>

using namespace lampo;
using namespace lampo::test;

/// Map and sections on the song strip, and what the hits say of the map, in the real window.
class TestStripWindow : public WindowRig {
    Q_OBJECT

    SongStrip& strip() { return *window_->findChild<SongStrip*>(); }
    QPoint name(int bar, int off = 0) {
        return {static_cast<int>(std::lround(strip().barX(bar))) + off, strip().namesY()};
    }
    QPoint mark(int bar, int off = 0) {
        return {static_cast<int>(std::lround(strip().barX(bar))) + off, strip().marksY()};
    }
    void click(const char* button) { QTest::mouseClick(control<QPushButton>(button), Qt::LeftButton); }

private slots:
    void initTestCase() { makeTake({"kick_in", "snare_top", "tom_rack", "hihat"}, 30); }
    void init() { openWindow(); }
    void cleanup() { window_.reset(); }

    void sectionsAreDrawnMovedSplitAndDropped() {
        dragOn(strip(), name(2, 6), name(5, 6)); // bars 2 to 5
        QCOMPARE(document().session().sections.size(), std::size_t{1});
        QCOMPARE(document().session().sections[0].firstBar, 2);
        QCOMPARE(document().session().sections[0].bars, 4);
        const int steps = document().history().count();
        pressAndMove(strip(), name(6), name(8)); // its end, at once
        QCOMPARE(document().session().sections[0].bars, 6);
        QTest::mouseRelease(&strip(), Qt::LeftButton, {}, name(8));
        QCOMPARE(document().history().count(), steps + 1);
        pressAndMove(strip(), name(8), name(4));
        QTest::keyClick(&strip(), Qt::Key_Escape); // dropped
        QTest::mouseRelease(&strip(), Qt::LeftButton, {}, name(4));
        QCOMPARE(document().session().sections[0].bars, 6);
        QCOMPARE(document().history().count(), steps + 1);
        const auto menuAction = [&](QPoint at, const QString& text) {
            QContextMenuEvent event(QContextMenuEvent::Mouse, at, strip().mapToGlobal(at));
            QApplication::sendEvent(&strip(), &event);
            auto* menu = strip().findChild<QMenu*>(QStringLiteral("Strip menu"));
            QVERIFY(menu);
            for (QAction* action : menu->actions())
                if (action->text().startsWith(text)) {
                    action->trigger();
                    menu->close();
                    delete menu;
                    return;
                }
            QFAIL(qPrintable("no such entry: " + text));
        };
        menuAction(name(4, 1), QStringLiteral("Split"));
        QCOMPARE(document().session().sections.size(), std::size_t{2});
        QCOMPARE(document().session().sections[1].firstBar, 4);
        menuAction(name(3), QStringLiteral("Delete the section"));
        QCOMPARE(document().session().sections.size(), std::size_t{1});
        undoAll();
        QVERIFY(document().session().sections.empty());
    }
    void aClickInTheNamesOnlyGoes() {
        QTest::mouseClick(&strip(), Qt::LeftButton, {}, name(6, 3));
        QVERIFY(document().session().sections.empty());
        const double frame =
            static_cast<double>(MusicalMap(document().session().map, document().session().rate).barStart(6).frame);
        QVERIFY(state().axis.firstFrame() <= frame && frame <= state().axis.lastFrame());
    }
    void tempoIsChangedOnTheStrip() {
        QTest::mouseDClick(&strip(), Qt::LeftButton, {}, mark(5, 4));
        QCOMPARE(document().session().map.tempos.size(), std::size_t{2});
        QCOMPARE(document().session().map.tempos[1].bar, 5);
        const auto turn = [&](int by, Qt::KeyboardModifiers keys) {
            const QPointF at = mark(5, 4);
            QWheelEvent wheel(at, strip().mapToGlobal(at), {}, {0, by}, Qt::NoButton, keys, Qt::NoScrollPhase,
                              false);
            QApplication::sendEvent(&strip(), &wheel);
        };
        turn(120, Qt::ShiftModifier);
        turn(-120, {});
        QVERIFY(std::abs(document().session().map.tempos[1].bpm.value - 104.9) < 1e-9);
        dragOn(strip(), mark(5, 4), mark(8, 2));
        QCOMPARE(document().session().map.tempos[1].bar, 8);
        dragOn(strip(), mark(1, 4), mark(3)); // bar 1 keeps its own
        QCOMPARE(document().session().map.tempos[0].bar, 1);
        MapData inside = document().session().map;
        inside.tempos[1] = {6, {90}, false, 3};
        document().perform(SetMap{inside, "x"});
        const auto marks = strip().marks();
        QVERIFY(marks.back().place == (BarBeat{6, 3}) && marks.back().box.left() > strip().barX(6) + 2);
        dragOn(strip(), marks.back().box.center().toPoint(), mark(9)); // to the nearest bar line
        QVERIFY(placeOf(document().session().map.tempos[1]) == (BarBeat{9, 1}));
        undoAll();
        QCOMPARE(document().session().map.tempos.size(), std::size_t{1});
    }
    void whatTheHitsSayIsDoneAndUndone() {
        document().perform(SetTempo{{101}});
        const MapData wrong = document().session().map;
        window_->goTo(Stop::map);
        auto* page = window_->findChild<MapCheckPage*>();
        page->check();
        QTRY_VERIFY(!page->busy());
        QVERIFY(control<QLabel>("Map fit")->text().contains("ms"));
        click("Advice 0");
        QCOMPARE(document().session().map.tempos.front().bpm.value, 104.0);
        document().history().undo();
        QVERIFY(document().session().map == wrong);
        page->check();
        QTRY_VERIFY(!page->busy());
        document().perform(SetOrigin{SongFrame{480}});
        click("Advice 0"); // of the map as it was: nothing is overwritten
        QCOMPARE(document().session().map.origin.frame, std::int64_t{480});
        QCOMPARE(document().session().map.tempos.front().bpm.value, 101.0);
        document().history().undo();
        page->check();
        page->check(); // the first one is forgotten
        QTRY_VERIFY(!page->busy());
        QVERIFY(control<QPushButton>("Advice 0")->isEnabled());
        page->check(); // and the window closes while one is under way
    }
    void theMapFollowsTheDrummer() {
        window_->goTo(Stop::map);
        control<QDoubleSpinBox>("Smooth")->setValue(0);
        click("Follow");
        QVERIFY(document().session().map.tempos.size() > 4);
        control<QDoubleSpinBox>("Smooth")->setValue(100);
        click("Follow");
        QCOMPARE(document().session().map.tempos.size(), std::size_t{1});
        QVERIFY(std::abs(document().session().map.tempos.front().bpm.value - 104) < 1);
    }
};

QTEST_MAIN(TestStripWindow)
#include "tst_strip_window.moc"
