#include "sheet/sheet_layout.h"
#include "sheet/time_axis.h"

#include <QtTest>

using namespace lampo;

class TestSheetLayout : public QObject {
    Q_OBJECT
private slots:
    void partsTileTheSheet_data() {
        QTest::addColumn<int>("height");
        QTest::addColumn<std::size_t>("lanes");
        QTest::newRow("roomy") << 800 << std::size_t{4};
        QTest::newRow("full") << 640 << std::size_t{12};
        QTest::newRow("crowded") << 400 << std::size_t{24};
        QTest::newRow("none") << 600 << std::size_t{0};
    }
    void partsTileTheSheet() {
        QFETCH(int, height);
        QFETCH(std::size_t, lanes);
        const auto layout = SheetLayout::of({1000, height}, lanes, 16, 0);
        QCOMPARE(layout.ruler.bottom() + 1, layout.ladder.top());
        QCOMPARE(layout.ladder.bottom() + 1, layout.lanesArea.top());
        QCOMPARE(layout.lanesArea.bottom() + 1, layout.plot.top());
        QCOMPARE(layout.plot.bottom() + 1, height);
        QCOMPARE(layout.lanes.size(), lanes);
        for (std::size_t i = 1; i < lanes; ++i)
            QCOMPARE(layout.lanes[i].top(), layout.lanes[i - 1].bottom() + 1);
    }
    void scrolledLanes() {
        const auto layout = SheetLayout::of({1000, 400}, 24, 16, 100);
        QCOMPARE(layout.lanes[0].top(), layout.lanesArea.top() - 100);
        QVERIFY(*layout.laneAt({5, layout.lanesArea.top() + 1}) >= 3);
        QVERIFY(!layout.laneAt({5, layout.plot.top() + 1}));
        const auto end = SheetLayout::of({1000, 400}, 24, 16, 100000);
        QCOMPARE(end.lanes.back().bottom(), end.lanesArea.bottom());
    }
    void zoomHoldsThePointer() {
        TimeAxis axis;
        axis.fit(FrameCount{4800000}, 1000);
        QCOMPARE(axis.framesPerPixel(), 4800.0);
        for (const double x : {0.0, 333.0, 999.0}) {
            axis.showAll();
            const double held = axis.toFrame(x);
            axis.zoomBy(0.1, x);
            QVERIFY(qAbs(axis.toFrame(x) - held) < 1e-6);
            QVERIFY(qAbs(axis.toX(axis.toFrame(17)) - 17) < 1e-9);
        }
    }
    void everyPlaceOfAPixelIsShown() {
        TimeAxis axis;
        axis.fit(FrameCount{4800000}, 1000);
        axis.zoomTo(0.3, 0);
        axis.scrollTo(100.25);
        const Range<SongFrame> shown = axis.shown();
        QCOMPARE(shown.begin, SongFrame{100}); // the frame a part of which is shown
        QCOMPARE(shown.end, SongFrame{401});   // up to 400.25
        for (std::int64_t frame = 101; frame < 400; ++frame) {
            QCOMPARE(axis.songAt(axis.toX(SongFrame{frame}) + 1e-6), SongFrame{frame});
            QVERIFY(shown.contains(SongFrame{frame}));
        }
        QCOMPARE(axis.songAt(axis.toX(-0.5)), SongFrame{-1}); // left of the song's start, not upon it
    }
    void neverOutsideTheSong() {
        TimeAxis axis;
        axis.fit(FrameCount{4800000}, 1000);
        axis.zoomBy(1e-9, 500);
        QCOMPARE(axis.framesPerPixel(), TimeAxis::closest);
        axis.scrollTo(1e12);
        QCOMPARE(axis.lastFrame(), 4800000.0);
        axis.zoomBy(1e9, 500);
        QCOMPARE(axis.firstFrame(), 0.0);
        QCOMPARE(axis.lastFrame(), 4800000.0);
        axis.fit(FrameCount{100}, 1000); // a song shorter than the widget is wide
        QVERIFY(axis.framesPerPixel() >= TimeAxis::closest);
    }
    void revealScrollsOnlyWhenNeeded() {
        TimeAxis axis;
        axis.fit(FrameCount{4800000}, 1000);
        axis.zoomTo(100, 0);
        axis.reveal(50000);
        QCOMPARE(axis.firstFrame(), 0.0);
        axis.reveal(1000000);
        QVERIFY(axis.toX(1000000) > 0 && axis.toX(1000000) < 1000);
    }
};

QTEST_APPLESS_MAIN(TestSheetLayout)
#include "tst_sheet_layout.moc"
