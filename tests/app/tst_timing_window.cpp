#include "app/window_rig.h"
#include "stops/map/map_panel.h"

#include <QComboBox>
#include <QDoubleSpinBox>
#include <QLabel>
#include <QLineEdit>
#include <QPointer>
#include <QPushButton>
#include <QSpinBox>
#include <QTableWidget>

using namespace lampo;
using namespace lampo::test;

/// The stops Map and Timing in the real window.
class TestTimingWindow : public WindowRig {
    Q_OBJECT

    QTableWidget& changes() { return *control<QTableWidget>("Changes"); }
    QTableWidget& sections() { return *control<QTableWidget>("Sections"); }
    /// As typed into a cell.
    void type(QTableWidget& table, int row, int column, const char* text) {
        table.setCurrentCell(row, column);
        table.editItem(table.item(row, column));
        const QPointer<QLineEdit> editor = table.findChild<QLineEdit*>();
        QVERIFY(editor);
        editor->selectAll();
        QTest::keyClicks(editor, text);
        QTest::keyClick(editor, Qt::Key_Return);
        QTRY_VERIFY(!editor);          // Qt ends editors later: the cell is written, then the editor goes
        QApplication::processEvents(); // the cell tells
    }

private slots:
    void initTestCase() { makeTake({"kick_in", "snare_top", "tom_rack", "hihat"}); }
    void init() { openWindow(); }
    void cleanup() { window_.reset(); }

    void changesAreAddedEditedAndDropped() {
        window_->goTo(Stop::map);
        control<QSpinBox>("Change bar")->setValue(3);
        control<QPushButton>("Add change")->click();
        QCOMPARE(changes().rowCount(), 2);
        type(changes(), 1, 1, "120");
        QCOMPARE(document().session().map.tempos[1].bpm.value, 120.0);
        type(changes(), 1, 3, "3/4");
        QCOMPARE(document().session().map.meters[1].meter.beats, 3);
        changes().item(0, 2)->setCheckState(Qt::Checked);
        QApplication::processEvents();
        QVERIFY(document().session().map.tempos[0].ramp);
        // From 104 to 120 BPM over two bars of 4/4 the third bar begins after 240 · 2 / 16 · ln(120 / 104) seconds.
        const MusicalMap map(document().session().map, document().session().rate);
        QCOMPARE(map.barStart(3).frame, std::llround(48000 * 240.0 * 2 / 16 * std::log(120.0 / 104)));
        // A change put into the middle of an even one leaves the bar lines where they are.
        control<QSpinBox>("Change bar")->setValue(2);
        control<QPushButton>("Add change")->click();
        QCOMPARE(document().session().map.tempos.size(), std::size_t{3});
        QCOMPARE(MusicalMap(document().session().map, document().session().rate).barStart(3), map.barStart(3));
        action("undo")->trigger();
        // Inside a bar: the third beat of bar 2, where it stays when other cells are typed.
        type(changes(), 1, 0, "2.3");
        QCOMPARE(document().session().map.tempos[1].beat, 3.0);
        QCOMPARE(document().session().map.meters[1].bar, 2); // a meter changes at bar lines only
        type(changes(), changes().rowCount() - 1, 1, "121");
        QVERIFY(placeOf(document().session().map.tempos[1]) == (BarBeat{2, 3}));
        QCOMPARE(document().session().map.tempos[1].bpm.value, 121.0);
        type(changes(), changes().rowCount() - 1, 0, "2.9"); // no such beat
        QVERIFY(window_->notice().contains("2.9"));
        QVERIFY(placeOf(document().session().map.tempos[1]) == (BarBeat{2, 3}));
        // What is not typed stays as exact as it was, however few digits a cell shows.
        MapData exact = document().session().map;
        exact.tempos[1] = {2, {100.0 / 3}, false, 2 + 1.0 / 3};
        document().perform(SetMap{exact, "x"});
        type(changes(), 0, 1, "99");
        QCOMPARE(document().session().map.tempos[0].bpm.value, 99.0);
        QVERIFY(document().session().map.tempos[1] == exact.tempos[1]);
        for (int step = 0; step < 4; ++step)
            action("undo")->trigger();
        QCOMPARE(document().session().map.tempos[1].bar, 3);
        type(changes(), 1, 1, "5000"); // refused, and put back
        QCOMPARE(document().session().map.tempos[1].bpm.value, 120.0);
        QCOMPARE(changes().item(1, 1)->text(), QStringLiteral("120"));
        QVERIFY(window_->notice().contains("999"));
        changes().setCurrentCell(1, 0);
        control<QPushButton>("Delete change")->click();
        QCOMPARE(changes().rowCount(), 1);
        action("undo")->trigger();
        QCOMPARE(changes().rowCount(), 2);
    }
    void mapsGoToMidiFilesAndComeBack() {
        document().perform(SetMap{{SongFrame{0}, {{1, {4, 4}}, {4, {7, 8}}}, {{1, {104}}, {3, {130}}}}, "x"});
        const auto file = QString::fromStdString((folder_ / "map.mid").string());
        window_->findChild<MapPanel*>()->exportMap(file);
        const MapData before = document().session().map;
        document().perform(SetTempo{{90}});
        window_->findChild<MapPanel*>()->importMap(file);
        QVERIFY(document().session().map.meters == before.meters);
        QVERIFY(std::abs(document().session().map.tempos[1].bpm.value - 130) < 1e-3);
        // Markers become sections (Standard MIDI Files 1.0: FF 06 and a text).
        MidiFile marked{96, {{}}};
        for (const auto& [tick, name] :
             std::vector<std::pair<std::int64_t, std::string>>{{384, "Mole"}, {1536 + 10, "Quay"}})
            marked.tracks[0].push_back({tick, 0xFF, midi::marker, name});
        writeBytes(folder_ / "marked.mid", midiBytes(marked));
        window_->findChild<MapPanel*>()->importMap(QString::fromStdString((folder_ / "marked.mid").string()));
        const auto& made = document().session().sections;
        QCOMPARE(made.size(), std::size_t{2});
        QCOMPARE(made[0].name, std::string("Mole"));
        QCOMPARE(made[0].firstBar, 2);
        QCOMPARE(made[0].bars, 3);
        QCOMPARE(made[1].firstBar, 5);
        document().history().undo();
        QVERIFY(document().session().sections.empty());
        writeBytes(folder_ / "no.mid", "nothing");
        window_->findChild<MapPanel*>()->importMap(QString::fromStdString((folder_ / "no.mid").string()));
        QVERIFY(window_->notice().contains("no.mid"));
    }
    void sectionsAreMadeNamedAndDropped() {
        window_->goTo(Stop::map);
        const MusicalMap map(document().session().map, document().session().rate);
        window_->player().setLoop({asResult(map.barStart(2)), asResult(map.barStart(5))});
        control<QPushButton>("Add section")->click();
        window_->player().setLoop({asResult(map.barStart(4)), asResult(map.barStart(6))});
        control<QPushButton>("Add section")->click();
        QCOMPARE(sections().rowCount(), 2);
        QCOMPARE(document().session().sections[0].bars, 2); // cut short by the second
        type(sections(), 1, 0, "Mole");
        QCOMPARE(document().session().sections[1].name, std::string("Mole"));
        type(sections(), 0, 2, "9"); // would overlap
        QCOMPARE(document().session().sections[0].bars, 2);
        QVERIFY(window_->notice().contains("overlap"));
        sections().setCurrentCell(0, 0);
        control<QPushButton>("Delete section")->click();
        QCOMPARE(document().session().sections.size(), std::size_t{1});
        for (int step = 0; step < 4; ++step)
            action("undo")->trigger();
        QVERIFY(document().session().sections.empty());
    }
    void timingOfTheSongAndOfASection() {
        document().perform(SetSections{{{"Pier", 2, 3, {}, {}}}, "x"});
        window_->goTo(Stop::timing);
        control<QDoubleSpinBox>("Swing")->setValue(60);
        control<QDoubleSpinBox>("Pocket")->setValue(5);
        QCOMPARE(document().session().timing.swing, 60.0);
        auto* where = control<QComboBox>("Timing where");
        where->setCurrentIndex(1);
        emit where->activated(1);
        QCOMPARE(control<QDoubleSpinBox>("Pocket")->value(), 5.0); // as the song
        control<QDoubleSpinBox>("Pocket")->setValue(12);
        control<QComboBox>("Outside it")->setCurrentIndex(1);
        auto* snare = control<QComboBox>("snare goes");
        snare->setCurrentIndex(2);
        emit snare->activated(2);
        const Section& pier = document().session().sections[0];
        QVERIFY(pier.pocket && pier.pocket->value == 12 && pier.pull == Pull::toEdge);
        QVERIFY(pier.drumTimings && (*pier.drumTimings)[1] == DrumTiming::stay);
        QCOMPARE(document().session().timing.pocket.value, 5.0);
        // In the section no snare moves; outside they do.
        const auto& outcome = document().outcome();
        const MusicalMap map(document().session().map, document().session().rate);
        int moved = 0;
        for (std::size_t i = 0; i < outcome.hits.size(); ++i)
            if (outcome.hits[i].voice == Voice::snare && outcome.landings[i].line) {
                const int bar = outcome.landings[i].line->place.bar;
                if (pier.holds(bar) && !outcome.landings[i].heldTogether)
                    QCOMPARE(outcome.landings[i].move().frames, std::int64_t{0});
                moved += !pier.holds(bar) && outcome.landings[i].move().frames != 0;
            }
        QVERIFY(moved > 0);
        control<QPushButton>("Follow the song")->click();
        QVERIFY(!document().session().sections[0].pocket && !document().session().sections[0].drumTimings);
    }
    void beatsOfABarHaveTheirOwnTimingButNoListening() {
        Section fill{"Fill", 3, 1, {}, {}};
        fill.beats = BeatRange{3, 2};
        document().perform(SetSections{{{"Pier", 2, 3, {}, 80.0}, fill}, "x"});
        window_->goTo(Stop::timing);
        auto* where = control<QComboBox>("Timing where");
        QCOMPARE(where->count(), 3);
        where->setCurrentIndex(2);
        auto* strength = control<QDoubleSpinBox>("Strength");
        QCOMPARE(strength->value(), 80.0); // that of its bar's section
        strength->setValue(30);
        QCOMPARE(document().session().sections[1].strength.value_or(0), 30.0);
        QCOMPARE(strength->value(), 30.0);
        auto sections = document().session().sections;
        sections.push_back({"Count", 1, 1, {}, {}}); // goes in front of them
        document().perform(SetSections{sections, "x"});
        QCOMPARE(where->currentText(), QStringLiteral("Only in Fill"));
        QCOMPARE(strength->value(), 30.0);
        action("undo")->trigger();
        QCOMPARE(where->currentText(), QStringLiteral("Only in Fill"));
        where->setCurrentIndex(1);
        QCOMPARE(strength->value(), 80.0);
        window_->goTo(Stop::hits);
        auto* heard = control<QComboBox>("Where");
        QCOMPARE(heard->count(), 2); // the song and the section of bars
        QVERIFY(!document().perform(SetFinest{1, Finest{}}));
        QVERIFY(window_->notice().contains("its section"));
    }
    void figuresThatWereHiddenAreTrueWhenShown() {
        window_->goTo(Stop::timing);
        auto* spread = control<QLabel>("Figure 1 1");
        const QString landed = spread->text();
        window_->goTo(Stop::hits);
        document().perform(SetStrength{0});
        window_->goTo(Stop::timing);
        QVERIFY2(spread->isVisible() && spread->text() != landed, qPrintable(landed));
    }
};

QTEST_MAIN(TestTimingWindow)
#include "tst_timing_window.moc"
