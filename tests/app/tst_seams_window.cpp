#include "app/seams_rig.h"
#include "pipeline/seam_cache.h"
#include "shell/mic_heads.h"
#include "stops/seams/seams_panel.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QLabel>
#include <QPushButton>
#include <QTableView>
#include <QToolButton>

using namespace lampo;
using namespace lampo::test;

/// The stop Seams in the real window.
class TestSeamsWindow : public SeamsRig {
    Q_OBJECT

    QTableView& table() { return *control<QTableView>("Seams table"); }
    /// In the lowest pixels of the first lane, as landed.
    QPoint pointAt(ResultFrame at) {
        return {static_cast<int>(std::lround(state().axis.toX(at))), state().landedBand({0}).bottom() - 3};
    }
    QPoint middle() { return pointAt(chosen().range.begin + FrameCount{chosen().range.length().frames / 2}); }

private slots:
    void initTestCase() { makeTake({"kick_in", "snare_top", "tom_rack", "hihat", "overhead_left"}); }
    void init() { openSeams(); }
    void cleanup() { window_.reset(); }

    void seamsArePlacedBySound() {
        QVERIFY(document().outcome().plan->open.empty());
        QVERIFY(seams().size() > 30);
        QCOMPARE(table().model()->rowCount(), static_cast<int>(seams().size()));
        QVERIFY(control<QLabel>("Seams tally")->text().contains("placed by sound over all mics"));
        // What a moved setting asks anew is answered as well, and in the end nothing is left by rule that was asked
        // for.
        document().perform(SetStrength{70});
        QVERIFY(!document().outcome().plan->open.empty());
        QVERIFY(document().seamWork().busy());
        settleSeams();
        QVERIFY(document().outcome().plan->open.empty());
        // Back again all answers are at hand.
        document().history().undo();
        QVERIFY(document().outcome().plan->open.empty());
    }
    void seamsAreWalkedMovedAndResetByKeys() {
        QTest::keyClick(window_.get(), Qt::Key_F7);
        QVERIFY(state().seam.has_value());
        const SeamIndex first = *state().seam;
        QTest::keyClick(window_.get(), Qt::Key_F7);
        QCOMPARE(*state().seam, SeamIndex{first + 1});
        QTest::keyClick(window_.get(), Qt::Key_F7, Qt::ShiftModifier);
        QCOMPARE(*state().seam, first);
        // It can be seen.
        QVERIFY(static_cast<double>(chosen().range.length().frames) >= 20 * state().axis.framesPerPixel());
        QCOMPARE(table().selectionModel()->selectedRows().size(), 1);
        chooseFrom(3);
        const Seam before = chosen();
        for (int step = 0; step < 3; ++step)
            QTest::keyClick(window_.get(), Qt::Key_PageUp, Qt::ShiftModifier);
        QCOMPARE(chosen().ahead, before.ahead + FrameCount{3 * 48});
        QCOMPARE(chosen().range.length(), before.range.length());
        QVERIFY(chosen().by == PlacedBy::hand);
        QTest::keyClick(window_.get(), Qt::Key_PageUp, Qt::ControlModifier);
        QCOMPARE(chosen().range.length(), before.range.length() + FrameCount{48});
        QCOMPARE(chosen().ahead, before.ahead + FrameCount{3 * 48});
        QTest::keyClick(window_.get(), Qt::Key_F7, Qt::ControlModifier);
        QVERIFY(chosen().by == PlacedBy::search);
        QCOMPARE(chosen().range, before.range);
        QVERIFY(document().session().seamsByHand.empty());
    }
    /// A key that two actions claim does nothing.
    void noTwoActionsShareAKey() {
        std::map<QString, QString> claimed;
        for (const QAction* action : window_->findChildren<QAction*>())
            for (const QKeySequence& keys : action->shortcuts()) {
                const QString& first = claimed.try_emplace(keys.toString(), action->objectName()).first->second;
                QVERIFY2(first == action->objectName(),
                         qPrintable(keys.toString() + ' ' + first + ' ' + action->objectName()));
            }
        QVERIFY(claimed.size() > 40);
    }
    void aSeamIsDraggedInTheLanes() {
        chooseFrom(3);
        const Seam before = chosen();
        const int steps = document().history().count();
        const QPoint from = middle();
        const int pixels = 40;
        const FrameCount by{std::llround(pixels * state().axis.framesPerPixel())};
        pressAndMove(sheet(), from, from - QPoint(pixels, 0));
        QCOMPARE(chosen().range.end, before.range.end - by); // while the hand moves
        QTest::keyClick(&sheet(), Qt::Key_Escape);
        QTest::mouseRelease(&sheet(), Qt::LeftButton, {}, from);
        QCOMPARE(chosen().range, before.range);
        QCOMPARE(document().history().count(), steps);
        drag(from, from - QPoint(pixels, 0));
        QCOMPARE(document().history().count(), steps + 1);
        QCOMPARE(chosen().range.end, before.range.end - by);
        // Its begin alone: longer, its end where it was.
        const Seam moved = chosen();
        sheet().fitChosen();
        const FrameCount longer{std::llround(30 * state().axis.framesPerPixel())};
        drag(pointAt(moved.range.begin), pointAt(moved.range.begin) - QPoint(30, 0));
        QCOMPARE(chosen().range.end, moved.range.end);
        QVERIFY(std::abs((chosen().range.length() - moved.range.length() - longer).frames) <= 1);
        // Never over the attacks on its two sides.
        drag(middle(), middle() + QPoint(900, 0));
        QCOMPARE(chosen().range.end, chosen().room.end);
        document().history().undo();
        document().history().undo();
        document().history().undo();
        QCOMPARE(chosen().range, before.range);
    }
    void aSeamIsTypedAndChosenInTheTable() {
        QVERIFY(!control<QDoubleSpinBox>("Its fade")->isEnabled()); // of no seam
        chooseFrom(3);
        const Seam before = chosen();
        control<QDoubleSpinBox>("Before attack")->setValue(25);
        QCOMPARE(chosen().ahead, toFrames(Milliseconds{25}, {48000}));
        control<QDoubleSpinBox>("Its fade")->setValue(4);
        QCOMPARE(chosen().range.length(), toFrames(Milliseconds{4}, {48000}));
        QVERIFY(control<QToolButton>("Reset seam")->isEnabled());
        control<QComboBox>("Its curve")->setCurrentIndex(3);
        control<QComboBox>("Its curve")->activated(3);
        QVERIFY(chosen().curve == FadeCurve::equalGain);
        control<QToolButton>("Reset seam")->click();
        QCOMPARE(chosen().range, before.range);
        QVERIFY(!control<QToolButton>("Reset seam")->isEnabled());
        // A row of the table is shown on the sheet.
        table().selectRow(5);
        QCOMPARE(state().seams.size(), std::size_t{1});
        QVERIFY(chosen().range.begin >= ResultFrame{static_cast<std::int64_t>(state().axis.firstFrame())});
        // Sorted by what wants an ear: the deepest dip first.
        table().sortByColumn(3, Qt::DescendingOrder);
        const double top = table().model()->index(0, 3).data().toString().toDouble();
        for (int row = 1; row < table().model()->rowCount(); ++row)
            QVERIFY(table().model()->index(row, 3).data().toString().toDouble() <= top);
    }
    void aShapedSeamStaysWithItsHits() {
        chooseFrom(3);
        control<QDoubleSpinBox>("Before attack")->setValue(22);
        const SeamBetween between = *chosen().between;
        // Whatever changes before it and around it.
        document().perform(SetStrength{80});
        document().perform(SetLeadIn{{5}});
        document().perform(SetThreshold{MicIndex{2}, {-40}});
        settleSeams();
        const auto same = [&](const Seam& seam) { return seam.between == between; };
        const auto still = std::find_if(seams().begin(), seams().end(), same);
        QVERIFY(still != seams().end() && still->by == PlacedBy::hand);
        QCOMPARE(still->ahead, toFrames(Milliseconds{22}, {48000}));
        QVERIFY(document().outcome().lostSeams.empty());
        // Its hit is gone: it is told, not dropped, and comes back with the hit.
        document().perform(Correct{{Correction::Kind::remove, between.take, between.behind}});
        QCOMPARE(document().outcome().lostSeams.size(), std::size_t{1});
        const auto& warnings = document().outcome().warnings;
        QVERIFY(std::any_of(warnings.begin(), warnings.end(),
                            [](const Warning& warning) { return warning.kind == WarningKind::lostSeam; }));
        document().history().undo();
        QVERIFY(document().outcome().lostSeams.empty());
    }
    void manyAreShapedAtOnce() {
        std::vector<SeamIndex> some;
        for (SeamIndex seam; seam < seams().size() && some.size() < 4; ++seam)
            if (seams()[seam].between && seams()[seam].room.length() > toFrames(Milliseconds{30}, {48000}))
                some.push_back(seam);
        sheet().chooseSeams({some.front()}, some.front());
        const SeamKind kind = chosen().kind;
        action("seams-of-kind")->trigger();
        QCOMPARE(
            static_cast<std::ptrdiff_t>(state().seams.size()),
            std::count_if(seams().begin(), seams().end(), [&](const Seam& seam) { return seam.kind == kind; }));
        document().perform(SetSections{{{"Squall", 3, 2, {}, {}}}, "A section"});
        chooseFrom(3);
        action("seams-of-section")->trigger();
        QVERIFY(state().seams.size() > 4);
        const MusicalMap map(document().session().map, document().session().rate);
        for (const SeamIndex seam : state().seams)
            QVERIFY(map.barAt(asSong(seams()[seam].range.end)) == 3 ||
                    map.barAt(asSong(seams()[seam].range.end)) == 4);
        sheet().chooseSeams(some, some.front());
        control<QDoubleSpinBox>("Its fade")->setValue(3);
        QCOMPARE(document().session().seamsByHand.size(), std::size_t{4});
        for (const SeamIndex seam : state().seams)
            QCOMPARE(seams()[seam].range.length(), toFrames(Milliseconds{3}, {48000}));
        QTest::keyClick(window_.get(), Qt::Key_F7, Qt::ControlModifier);
        QVERIFY(document().session().seamsByHand.empty());
    }
    /// What holes are filled with, for the song, for a section and for one seam.
    void holesAreStretched() {
        const auto stretched = [this] {
            return std::count_if(seams().begin(), seams().end(),
                                 [](const Seam& seam) { return seam.kind == SeamKind::stretched; });
        };
        const auto choose = [this](const char* box, int index) {
            control<QComboBox>(box)->setCurrentIndex(index);
            control<QComboBox>(box)->activated(index);
        };
        QCOMPARE(stretched(), 0);
        for (SeamIndex seam; seam < seams().size(); ++seam)
            if (seams()[seam].kind == SeamKind::borrowed && seams()[seam].between) {
                sheet().chooseSeams({seam}, seam);
                break;
            }
        choose("Its hole", 2);
        QVERIFY(stretched() >= 2); // in and out; more where strokes ride along
        QVERIFY(chosen().kind == SeamKind::stretched && chosen().stretch > 1);
        QVERIFY(table()
                    .model()
                    ->index(static_cast<int>(*state().seam), 1)
                    .data()
                    .toString()
                    .startsWith("stretched × 1."));
        QTest::keyClick(window_.get(), Qt::Key_F7, Qt::ControlModifier);
        QCOMPARE(stretched(), 0);
        control<QPushButton>("In general page")->click();
        choose("Holes", 1);
        const auto all = stretched();
        QVERIFY(all > 20);
        settleSeams();
        QCOMPARE(stretched(), all);
        QVERIFY(document().outcome().plan->open.empty());
        document().history().undo();
        // In one section alone.
        document().perform(SetSections{{{"Squall", 3, 2, {}, {}}}, "A section"});
        control<QComboBox>("Seams where")->setCurrentIndex(1);
        choose("Holes", 1);
        QVERIFY(stretched() > 0 && stretched() < all);
        QVERIFY(!control<QDoubleSpinBox>("Longest fade")->isEnabled());
        control<QDoubleSpinBox>("Lead-in")->setValue(20);
        QCOMPARE(document().session().sections.front().leadIn->value, 20.0);
        QCOMPARE(document().session().seams.leadIn.value, 10.0);
        control<QPushButton>("Seams follow the song")->click();
        QCOMPARE(stretched(), 0);
        QVERIFY(!document().session().sections.front().leadIn);
    }
    void aLeadInIsSuggested() {
        control<QPushButton>("In general page")->click();
        QVERIFY(control<QLabel>("Lead-in advice")->text().contains("0 ms: cuts off"));
        document().perform(SetLeadIn{{37}});
        auto* use = control<QPushButton>("Suggested lead-in");
        QVERIFY(use->isEnabled());
        use->click();
        QVERIFY(document().session().seams.leadIn.value <= 15);
        QVERIFY(!use->isEnabled());
    }
    /// The edge between two mics' heads is dragged; a double click gives the lane its share again.
    void aLaneIsMadeHigher() {
        QWidget& heads = *window_->findChild<MicHeads*>();
        const auto height = [this](std::size_t lane) { return state().layout.lanes[lane].height(); };
        const int before = height(1), other = height(2);
        const QPoint edge(20, state().layout.lanes[1].bottom());
        QTest::mousePress(&heads, Qt::LeftButton, {}, edge);
        QTest::mouseMove(&heads, edge + QPoint(0, 40));
        QCOMPARE(height(1), before + 40);
        QTest::mouseRelease(&heads, Qt::LeftButton, {}, edge + QPoint(0, 40));
        QCOMPARE(height(1), before + 40);
        QVERIFY(height(2) <= other);
        QCOMPARE(document().session().mics.front().stem, std::string("kick_in")); // none was moved
        document().perform(MoveMic{0, 1}); // it is the mic's, wherever it goes
        QCOMPARE(height(0), before + 40);
        document().history().undo();
        QTest::mouseDClick(&heads, Qt::LeftButton, {}, QPoint(20, state().layout.lanes[1].bottom()));
        QCOMPARE(height(1), before);
    }
    /// Past a bar the ruler counts beats and milliseconds, and quiet tails can be drawn as high as loud attacks.
    void anAttackIsSeenUpClose() {
        const auto inkIn = [this](QRect part) {
            const QImage picture = sheet().grab(part).toImage();
            int ink = 0;
            for (int y = 0; y < picture.height(); ++y)
                for (int x = 0; x < picture.width(); ++x)
                    ink += QColor(picture.pixel(x, y)).lightness() < 150;
            return ink;
        };
        chooseFrom(3);
        sheet().select(std::nullopt);
        const QRect ruler = state().layout.ruler;
        QVERIFY(inkIn(ruler.adjusted(200, ruler.height() / 2, 0, -3)) > 100); // blank where only bars are counted
        const QRect lane = state().landedBand({0});
        const int low = inkIn(lane);
        for (int step = 0; step < 5; ++step)
            action("waves-higher")->trigger();
        QCOMPARE(state().waveHeight, 32.0);
        QVERIFY(inkIn(lane) > low);
        // The wheel heightens all lanes with Control, the one under the pointer with Shift as well.
        const auto turn = [&](Qt::KeyboardModifiers keys) {
            const QPointF at = lane.center();
            QWheelEvent wheel(at, sheet().mapToGlobal(at), {}, {0, 240}, Qt::NoButton, keys, Qt::NoScrollPhase,
                              false);
            QApplication::sendEvent(&sheet(), &wheel);
        };
        turn(Qt::ControlModifier);
        QCOMPARE(state().waveHeight, 64.0);
        turn(Qt::ControlModifier | Qt::ShiftModifier);
        QCOMPARE(state().waveHeightOf({0}), 128.0);
        QCOMPARE(state().waveHeightOf({1}), 64.0);
        action("waves-reset")->trigger();
        QCOMPARE(state().waveHeightOf({0}), 1.0);
        // Fit: the chosen seam here, a hit where no seam is chosen, the bar where nothing is.
        sheet().chooseSeams({}, std::nullopt);
        QTest::keyClick(window_.get(), Qt::Key_F);
        const double bar = 4 * 60.0 / 104 * 48000;
        QVERIFY(std::abs(state().axis.framesPerPixel() * state().axis.width() - bar) < bar / 50);
        sheet().select(HitIndex{3});
        QTest::keyClick(window_.get(), Qt::Key_F);
        QVERIFY(std::abs(state().axis.framesPerPixel() * state().axis.width() - 0.2 * 48000) < 500);
    }
    /// Found once, they are at hand when the project is opened again.
    void whatWasFoundIsKept() {
        const auto file = folder_ / "kept.lampo";
        QVERIFY(document().save(file).has_value());
        document().perform(SetStrength{90});
        settleSeams();
        document().history().undo();
        QVERIFY(document().save(file).has_value());
        const std::size_t asked = seams().size();
        const Plan before = *document().outcome().plan;
        QVERIFY(readSeams(file.string() + "-heard").size() >= asked / 2);
        window_.reset();
        openWindow("kept.lampo");
        settleSeams();
        QVERIFY(*document().outcome().plan == before);
    }
};

QTEST_MAIN(TestSeamsWindow)
#include "tst_seams_window.moc"
