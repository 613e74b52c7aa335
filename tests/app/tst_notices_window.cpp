#include "app/window_rig.h"
#include "stops/map/map_panel.h"
#include "takes/take_strip.h"

#include <QAbstractButton>

using namespace lampo;
using namespace lampo::test;

/// What the window says when something cannot be done here, or was done somewhere else: whole sentences, as shown.
class TestNoticesWindow : public WindowRig {
    Q_OBJECT

    Range<SongFrame> bars(int first, int end) {
        const MusicalMap map(document().session().map, document().session().rate);
        return {std::max(map.barStart(first), SongFrame{0}), map.barStart(end)};
    }
    void silence() {
        QVERIFY(
            document().perform(Lay{{SongFrame{0}, SongFrame{0} + document().session().extent()}, std::nullopt}));
    }
    void click(const char* button) { control<QAbstractButton>(button)->click(); }

private slots:
    void initTestCase() {
        makeTake({"kick_in", "snare_top"}, 12);
        buildTake(folder_ / "two/A", 'A', 12, {"kick_in", "snare_top"});
        buildTake(folder_ / "two/B", 'B', 12, {"kick_in", "snare_top"});
    }
    void init() { openWindow(); }
    void cleanup() { window_.reset(); }

    void actionsSayWhatTheyWant_data() {
        QTest::addColumn<QString>("name");
        QTest::addColumn<QString>("sentence");
        const auto row = [](const char* name, const char* sentence) {
            QTest::newRow(name) << name << QString::fromUtf8(sentence);
        };
        row("drop-graft", "Pick up a range first: choose it in a take's row and press G");
        row("lay-rated", "No bar is rated yet: R and 1 to 3 rates the chosen bars of a take");
        row("next-take", "There is no other take: bring in more takes of the same mics");
        row("join-hits", "Choose the hits that are one: Shift or Ctrl and click chooses several");
        row("remove-hit", "Choose a hit first: click it, or step through them with the arrow keys");
        row("hear-slice", "Choose a hit to hear first");
        for (const char* name : {"loop-seam", "seam-later", "seam-longer", "reset-seam"})
            row(name, "Choose a seam first: F7 steps through them, and so does the table of Seams");
    }
    void actionsSayWhatTheyWant() {
        QFETCH(QString, name);
        QFETCH(QString, sentence);
        action(qPrintable(name))->trigger();
        QCOMPARE(window_->notice(), sentence);
    }
    void buttonsSayWhatTheyWant_data() {
        QTest::addColumn<QString>("name");
        QTest::addColumn<QString>("sentence");
        QTest::newRow("origin") << "Bar 1 is the chosen hit"
                                << "Choose the hit that is bar 1, beat 1 first";
        QTest::newRow("section") << "Delete section"
                                 << "Choose a section first";
        QTest::newRow("feel") << "Delete feel"
                              << "Choose the feel to delete first";
    }
    void buttonsSayWhatTheyWant() {
        QFETCH(QString, name);
        QFETCH(QString, sentence);
        click(qPrintable(name));
        QCOMPARE(window_->notice(), sentence);
    }
    void whereNoTakeSoundsNothingIsDone() {
        silence();
        for (const char* name : {"add-hit", "to-source", "pick-up"}) {
            window_->takes().choose(std::nullopt, {});
            action("drop-graft")->trigger(); // another sentence between
            action(name)->trigger();
            QVERIFY2(window_->notice() == "No take sounds here", name);
        }
        window_->takes().choose(TakeIndex{0}, bars(2, 3));
        action("from-source")->trigger();
        QCOMPARE(window_->notice(), QString("This does not sound in the comp"));
    }
    void whatWasPickedUpIsNamed() {
        window_->takes().choose(TakeIndex{0}, bars(2, 4));
        action("pick-up")->trigger();
        QCOMPARE(window_->notice(), QString("Picked up bars 2 to 3 of take A: choose a bar and press Shift+G"));
    }
    void whatWasWrittenIsNamed() {
        const QString click = QString::fromStdString((folder_ / "click.wav").string());
        window_->kitFiles().writeClickTo(click, {});
        QCOMPARE(window_->notice(), "The click is in " + click);
        const QString map = QString::fromStdString((folder_ / "map.mid").string());
        window_->findChild<MapPanel*>()->exportMap(map);
        QCOMPARE(window_->notice(), "Bars 1 to 6 are in " + map);
    }
    void hitsOfTwoTakesAreNotJoined() {
        window_.reset();
        openWindow("two");
        document().perform(Lay{bars(3, 4), TakeIndex{1}});
        const auto& hits = document().outcome().hits;
        HitIndex second;
        while (second < hits.size() && hits[second].take == hits[0].take)
            ++second;
        QVERIFY(second < hits.size());
        sheet().selectMany({{second - 1}, second}, second);
        action("join-hits")->trigger();
        QCOMPARE(window_->notice(), QString("Hits of two takes cannot be joined"));
    }
};

QTEST_MAIN(TestNoticesWindow)
#include "tst_notices_window.moc"
