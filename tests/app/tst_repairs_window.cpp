#include "app/window_rig.h"
#include "stops/seams/patches_page.h"

#include <QDoubleSpinBox>
#include <QLabel>
#include <QPushButton>
#include <QTableView>

using namespace lampo;
using namespace lampo::test;

/// Repairs in the real window: one drum mended, the others as they were.
class TestRepairsWindow : public WindowRig {
    Q_OBJECT

    const SharedList<Patch>& patches() { return document().session().patches; }
    const std::vector<PlannedPatch>& sounding() { return document().outcome().plan->patches; }
    std::vector<HitIndex> snares() {
        std::vector<HitIndex> all;
        for (HitIndex hit; hit < document().outcome().hits.size(); ++hit)
            if (document().outcome().hits[hit].voice == Voice::snare && document().outcome().hits[hit].mic)
                all.push_back(hit);
        return all;
    }

private slots:
    void initTestCase() { makeTake({"kick_in", "snare_top", "snare_bottom", "tom_rack", "overhead_left"}); }
    void init() {
        openWindow();
        window_->goTo(Stop::seams);
    }
    void cleanup() { window_.reset(); }

    void aStrokeIsReplaced() {
        QTest::keyClick(window_.get(), Qt::Key_R, Qt::ControlModifier);
        QVERIFY(window_->notice().contains("Choose a stroke"));
        const HitIndex hit = snares()[5];
        sheet().select(hit, true);
        QTest::keyClick(window_.get(), Qt::Key_R, Qt::ControlModifier);
        QCOMPARE(patches().size(), std::size_t{1});
        QVERIFY((patches().front().mics == std::vector<std::string>{"snare_top", "snare_bottom"}));
        QVERIFY(window_->notice().startsWith("By stroke 1 of"));
        QCOMPARE(sounding().size(), std::size_t{1});
        QVERIFY(sounding().front().sounds.contains(document().outcome().landings[hit].at));
        // The next press tries the next donor, as one step each.
        const TakePlace first = *patches().front().from;
        QTest::keyClick(window_.get(), Qt::Key_R, Qt::ControlModifier);
        QCOMPARE(patches().size(), std::size_t{1});
        QVERIFY(!(*patches().front().from == first));
        action("undo")->trigger();
        QVERIFY(*patches().front().from == first);
        // Switched off it is not heard, and nothing of it is lost.
        QTest::keyClick(window_.get(), Qt::Key_E, Qt::ControlModifier);
        QVERIFY(sounding().empty() && !patches().front().on);
        action("undo")->trigger();
        action("undo")->trigger();
        QVERIFY(patches().empty());
    }
    void levelsAreEvened() {
        const auto all = snares();
        sheet().selectMany(all, all.front());
        QTest::keyClick(window_.get(), Qt::Key_L, Qt::ControlModifier | Qt::ShiftModifier);
        QVERIFY(patches().size() > 3);
        for (const Patch& patch : patches())
            QVERIFY(patch.kind == PatchKind::gain && patch.gain.value != 0);
        action("undo")->trigger();
        sheet().select(all[3]);
        QTest::keyClick(window_.get(), Qt::Key_PageUp, Qt::ControlModifier | Qt::ShiftModifier);
        QTest::keyClick(window_.get(), Qt::Key_PageUp, Qt::ControlModifier | Qt::ShiftModifier);
        QCOMPARE(patches().size(), std::size_t{1});
        QCOMPARE(patches().front().gain.value, 2.0);
        // Of several: one that has a gain is changed, the others get one.
        sheet().selectMany({all[2], all[3], all[4]}, all[3]);
        QTest::keyClick(window_.get(), Qt::Key_PageDown, Qt::ControlModifier | Qt::ShiftModifier);
        QCOMPARE(patches().size(), std::size_t{3});
        QCOMPARE(patches()[0].gain.value, 1.0);
        QVERIFY(patches()[1].gain.value == -1 && patches()[2].gain.value == -1);
        action("undo")->trigger(); // one step
        QVERIFY(patches().size() == 1 && patches().front().gain.value == 2);
        // Seams by rule are the same patches on another plan.
        const auto ruled = ruledPlan(document().session(), document().outcome());
        QVERIFY(ruled->patches.size() == 1 && ruled->patches.front().gain == sounding().front().gain);
        action("delete-patches")->trigger();
        QVERIFY(patches().empty());
    }
    void allAreListedAndTakenBack() {
        action("silence-toms")->trigger();
        QVERIFY(patches().size() >= 1);
        control<QPushButton>("Repairs page")->click();
        auto* table = control<QTableView>("Patches table");
        QCOMPARE(table->model()->rowCount(), static_cast<int>(patches().size()));
        QVERIFY(table->model()->index(0, 2).data().toString() == "silent");
        QVERIFY(!control<QPushButton>("Delete patch")->isEnabled());
        table->selectionModel()->select(table->model()->index(0, 0),
                                        QItemSelectionModel::ClearAndSelect | QItemSelectionModel::Rows);
        control<QPushButton>("Switch patch")->click();
        QCOMPARE(table->model()->index(0, 4).data().toString(), QString("off"));
        control<QPushButton>("Switch patch")->click();
        const auto count = patches().size();
        control<QPushButton>("Delete patch")->click();
        QCOMPARE(patches().size(), count - 1);
    }
    /// On the lanes it lies on, and on no other.
    void aPatchIsDrawnOnItsLanes() {
        sheet().select(snares()[5], true);
        sheet().fitChosen();
        sheet().select(std::nullopt);
        const auto lane = [this](std::size_t mic) { return sheet().grab(state().landedBand({mic})).toImage(); };
        std::vector<QImage> before;
        for (std::size_t mic = 0; mic < 5; ++mic)
            before.push_back(lane(mic));
        sheet().select(snares()[5]);
        QTest::keyClick(window_.get(), Qt::Key_R, Qt::ControlModifier);
        sheet().select(std::nullopt);
        for (std::size_t mic = 0; mic < 5; ++mic)
            QCOMPARE(lane(mic) != before[mic], mic == 1 || mic == 2);
    }
};

QTEST_MAIN(TestRepairsWindow)
#include "tst_repairs_window.moc"
