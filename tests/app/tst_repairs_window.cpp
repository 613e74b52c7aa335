#include "app/window_rig.h"
#include "stops/repairs/mic_choice.h"
#include "stops/repairs/patches_page.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QLabel>
#include <QPushButton>
#include <QSpinBox>
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

    std::vector<ResultFrame> landed() {
        std::vector<ResultFrame> places;
        for (const Landing& landing : document().outcome().landings)
            places.push_back(landing.at);
        return places;
    }
    void turnTo(const char* page) { control<QPushButton>(page)->click(); }
    void chooseMics(const PatchMics& mics) { window_->findChild<MicChoice*>()->choose(mics); }
    void chooseRow(QTableView* table, int row) {
        table->selectionModel()->setCurrentIndex(table->model()->index(row, 0),
                                                 QItemSelectionModel::ClearAndSelect | QItemSelectionModel::Rows);
    }
    /// In the ruler.
    void drawStretch(int firstBar, int lastBar) {
        const MusicalMap map(document().session().map, document().session().rate);
        sheet().showRange(static_cast<double>(map.barStart(firstBar - 1).frame),
                          static_cast<double>(map.barStart(lastBar + 2).frame));
        const int y = state().layout.ruler.center().y();
        const QPoint from(static_cast<int>(state().axis.toX(map.barStart(firstBar))), y),
            to(static_cast<int>(state().axis.toX(map.barStart(lastBar + 1))), y);
        drag(from, to);
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
        QVERIFY(window_->notice().startsWith("By a stroke of take A"));
        QVERIFY(window_->notice().contains("The other mics keep it: "));
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
    /// Donors in a list, best first: one that is chosen sounds at once, all that were tried are one step.
    void donorsAreTriedInTheirPlace() {
        turnTo("Strokes page");
        QVERIFY(control<QLabel>("Donors note")->text().startsWith("Choose a stroke"));
        const HitIndex hit = snares()[5];
        sheet().select(hit, true);
        QVERIFY(control<QLabel>("Donors note")->text().contains("overhead_left"));
        auto* table = control<QTableView>("Donors table");
        QVERIFY(table->model()->rowCount() > 10);
        chooseRow(table, 0);
        QCOMPARE(patches().size(), std::size_t{1});
        const TakePlace first = *patches().front().from;
        const double gain = patches().front().gain.value;
        chooseRow(table, 3);
        QCOMPARE(patches().size(), std::size_t{1});
        QVERIFY(!(*patches().front().from == first));
        chooseRow(table, 0);
        QVERIFY(*patches().front().from == first);
        auto* level = control<QComboBox>("Donor level");
        level->setCurrentIndex(2);
        emit level->activated(2);
        QCOMPARE(patches().front().gain.value, 0.0);
        level->setCurrentIndex(0);
        emit level->activated(0);
        QCOMPARE(patches().front().gain.value, gain);
        // Heard in its place, once.
        control<QPushButton>("Hear donor")->click();
        QVERIFY(window_->player().playing());
        QVERIFY(window_->player().cursor() < document().outcome().landings[hit].at);
        window_->player().stop();
        // By single frames.
        const FrameCount shift = patches().front().shift;
        QTest::keyClick(window_.get(), Qt::Key_Right, Qt::ControlModifier | Qt::AltModifier);
        QTest::keyClick(window_.get(), Qt::Key_Right, Qt::ControlModifier | Qt::AltModifier);
        QCOMPARE(patches().front().shift, shift + FrameCount{2});
        QVERIFY(window_->notice().startsWith("The donor sounds"));
        action("undo")->trigger();
        QVERIFY(patches().empty());
    }
    /// Other mics than the drum's own, ticked in the menu.
    void anotherChoiceOfMics() {
        sheet().select(snares()[5]);
        auto* mics = window_->findChild<MicChoice*>();
        for (QAction* mic : mics->actions())
            if (mic->text() == "snare_top" || mic->text() == "overhead_left")
                mic->trigger();
        turnTo("Strokes page");
        QCOMPARE(control<QPushButton>("Repair mics")->text(), QString("On snare_top, overhead_left"));
        action("stroke-louder")->trigger();
        QVERIFY((patches().front().mics == std::vector<std::string>{"snare_top", "overhead_left"}));
        for (QAction* mic : mics->actions())
            if (mic->objectName() == "all mics")
                mic->trigger();
        action("stroke-softer")->trigger();
        QCOMPARE(patches()[1].mics.size(), document().session().mics.size());
        chooseMics({});
        action("stroke-softer")->trigger();
        QVERIFY((patches()[2].mics == std::vector<std::string>{"snare_top", "snare_bottom"}));
    }
    /// The plot shows levels while the page is seen; strokes are dragged in it.
    void levelsAreDragged() {
        QVERIFY(!state().plotsLevels);
        turnTo("Strokes page");
        QVERIFY(state().plotsLevels);
        const auto all = snares();
        sheet().selectMany({all[3], all[4]}, all[3]);
        sheet().reveal(document().outcome().landings[all[3]].at);
        const QPointF head = state().plotPoint(all[3], true);
        const int up = static_cast<int>(std::lround(3 / state().decibelsPerPixel()));
        drag(head.toPoint(), head.toPoint() - QPoint(0, up));
        QCOMPARE(patches().size(), std::size_t{2}); // both that are chosen
        QVERIFY(std::abs(patches()[0].gain.value - 3) <= 0.5);
        QVERIFY(std::abs(state().plotPoint(all[3], true).y() - (head.y() - up)) < 3);
        action("undo")->trigger();
        QVERIFY(patches().empty());
        // Esc drops it.
        pressAndMove(sheet(), head.toPoint(), head.toPoint() + QPoint(0, 12));
        QVERIFY(!patches().empty());
        QTest::keyClick(&sheet(), Qt::Key_Escape);
        QVERIFY(patches().empty());
        QTest::mouseRelease(&sheet(), Qt::LeftButton, {}, head.toPoint());
        // Half of the way to a value.
        sheet().selectMany({all[3], all[4], all[5]}, all[3]);
        control<QDoubleSpinBox>("Level amount")->setValue(50);
        control<QCheckBox>("Level to a value")->setChecked(true);
        control<QDoubleSpinBox>("Level target")->setValue(-6);
        control<QPushButton>("Level strokes")->click();
        for (const HitIndex hit : {all[3], all[4], all[5]}) {
            const double before = *state().strokeLevel(hit, false), after = *state().strokeLevel(hit, true);
            QVERIFY(std::abs(after - (before + -6) / 2) < 0.06);
        }
        turnTo("In general page");
        QVERIFY(!state().plotsLevels);
    }
    /// Moves, removals and seams for some mics only: said, drawn, listed, put back by one key, and over by itself.
    void someMicsAreEditedOnly() {
        const auto landings = landed();
        const HitIndex hit = snares()[6];
        QTest::keyClick(window_.get(), Qt::Key_U, Qt::ControlModifier);
        QVERIFY(window_->notice().contains("Choose a hit"));
        QVERIFY(!action("edit-only")->isChecked() && state().only == 0);
        sheet().select(hit, true);
        const QImage before = sheet().grab(state().layout.lanes[0]).toImage();
        QTest::keyClick(window_.get(), Qt::Key_U, Qt::ControlModifier);
        QVERIFY(action("edit-only")->isChecked());
        QVERIFY(window_->notice().contains("only"));
        QCOMPARE(state().only, onlyMic(MicIndex{1}) | onlyMic(MicIndex{2}));
        QVERIFY(sheet().grab(state().layout.lanes[0]).toImage() != before); // paler
        for (int i = 0; i < 3; ++i)
            QTest::keyClick(window_.get(), Qt::Key_Right, Qt::AltModifier | Qt::ShiftModifier); // 1 ms each
        QCOMPARE(patches().size(), std::size_t{1});
        QVERIFY(patches().front().kind == PatchKind::shift && patches().front().shift == FrameCount{3 * 48});
        QVERIFY(landed() == landings);
        QVERIFY(window_->notice().contains("3.0 ms (144 frames)") && window_->notice().contains("at 167 Hz"));
        // In the plot by the mouse: it adds to that.
        const QPointF head = state().plotPoint(hit, true);
        drag(head.toPoint(), head.toPoint() + QPoint(0, 9));
        QCOMPARE(patches().size(), std::size_t{1});
        QVERIFY(patches().front().shift > FrameCount{3 * 48});
        QVERIFY(landed() == landings);
        QTest::keyClick(window_.get(), Qt::Key_Delete, Qt::ControlModifier | Qt::ShiftModifier); // put back
        QVERIFY(patches().empty());
        QTest::keyClick(window_.get(), Qt::Key_Delete);
        QVERIFY(patches().size() == 1 && patches().front().kind == PatchKind::silence);
        QVERIFY(landed() == landings);
        // What cannot be for some mics alone is refused, and nothing moves.
        action("split-hit")->trigger();
        QVERIFY(window_->notice().contains("alone"));
        QVERIFY(landed() == landings);
        sheet().select(snares()[7]);
        QVERIFY(!action("edit-only")->isChecked() && state().only == 0);
        QTest::keyClick(window_.get(), Qt::Key_Right, Qt::AltModifier | Qt::ShiftModifier);
        QVERIFY(landed() != landings); // the kit is one again
        QCOMPARE(patches().size(), std::size_t{1});
        // A seam.
        action("undo")->trigger();
        const Plan plan = *document().outcome().plan;
        const auto open = std::find_if(plan.seams.begin(), plan.seams.end(), [](const Seam& seam) {
            return seam.between && seam.room.length() > FrameCount{4800} && seam.ahead > FrameCount{960};
        });
        const SeamIndex seam{static_cast<std::size_t>(open - plan.seams.begin())};
        sheet().select(std::nullopt);
        sheet().chooseSeams({seam}, seam, true);
        chooseMics({PatchMics::Which::these, {"tom_rack"}});
        QTest::keyClick(window_.get(), Qt::Key_U, Qt::ControlModifier);
        QCOMPARE(state().only, onlyMic(MicIndex{3}));
        QTest::keyClick(window_.get(), Qt::Key_PageUp, Qt::ShiftModifier);
        QVERIFY(patches().size() == 2 && patches()[1].kind == PatchKind::seam);
        QVERIFY(document().session().seamsByHand.empty() && document().outcome().plan->seams == plan.seams);
    }
    /// A stretch that is drawn in the ruler: silent, borrowed from another place, and listed.
    void stretchesOfSomeMics() {
        turnTo("Stretches page");
        control<QPushButton>("Silence stretch")->click();
        QVERIFY(window_->notice().contains("Choose the mics"));
        chooseMics({PatchMics::Which::these, {"tom_rack"}});
        control<QPushButton>("Silence stretch")->click();
        QVERIFY(window_->notice().contains("Draw a stretch"));
        drawStretch(4, 5);
        QVERIFY(control<QLabel>("Stretch note")->text().startsWith("From "));
        control<QPushButton>("Silence stretch")->click();
        QCOMPARE(sounding().size(), std::size_t{1});
        QVERIFY(abs(sounding().front().sounds.begin - state().loop.begin) < FrameCount{1000});
        QVERIFY(abs(sounding().front().sounds.end - state().loop.end) < FrameCount{1000});
        QTRY_VERIFY(control<QLabel>("Taken away")->text().contains("dBFS"));
        action("undo")->trigger();
        QVERIFY(patches().empty());
        control<QSpinBox>("Borrow bars")->setValue(2);
        control<QPushButton>("Borrow stretch")->click();
        QVERIFY(patches().size() > 4);
        QVERIFY(window_->notice().contains("borrowed for 1 mic from take A"));
        for (const Patch& patch : patches())
            QVERIFY(patch.kind == PatchKind::borrow && patch.mics == std::vector<std::string>{"tom_rack"});
        action("undo")->trigger();
        QVERIFY(patches().empty());
        chooseMics({});
    }
    /// The toms' silences as a whole.
    void tomSilencesAreSwitchedAsOne() {
        turnTo("Stretches page");
        control<QPushButton>("Silence toms")->click();
        const auto count = patches().size();
        QVERIFY(count >= 1 && sounding().size() == count);
        control<QPushButton>("Switch tom silences")->click();
        QVERIFY(sounding().empty() && patches().size() == count);
        control<QPushButton>("Switch tom silences")->click();
        QCOMPARE(sounding().size(), count);
        QTRY_VERIFY(control<QLabel>("Taken away")->text().startsWith("tom_rack:"));
    }
    /// What a patch is can be changed in the list, of several at once.
    void patchesAreChanged() {
        const auto all = snares();
        for (const std::size_t i : {3, 5}) {
            sheet().select(all[i]);
            QTest::keyClick(window_.get(), Qt::Key_R, Qt::ControlModifier);
        }
        turnTo("Patches page");
        auto* table = control<QTableView>("Patches table");
        QVERIFY(!control<QDoubleSpinBox>("Later by")->isEnabled());
        table->selectAll();
        control<QDoubleSpinBox>("Later by")->setValue(1.5);
        control<QDoubleSpinBox>("Its gain")->setValue(-3);
        control<QDoubleSpinBox>("Fades out")->setValue(25);
        const FrameCount length = patches()[1].length, before = patches()[1].before;
        control<QDoubleSpinBox>("Begins before")->setValue(12);
        for (const Patch& patch : patches()) {
            QCOMPARE(patch.shift, FrameCount{72});
            QCOMPARE(patch.gain.value, -3.0);
            QCOMPARE(patch.fadeOut.value, 25.0);
            QCOMPARE(patch.before, FrameCount{576});
        }
        QCOMPARE(patches()[1].length, length + (FrameCount{576} - before)); // its end stays
        control<QDoubleSpinBox>("Its length")->setValue(100);
        QCOMPARE(patches()[0].length, FrameCount{4800});
        // How far is told is a setting.
        const auto warned = [this] {
            const auto& warnings = document().outcome().warnings;
            return std::any_of(warnings.begin(), warnings.end(),
                               [](const Warning& warning) { return warning.kind == WarningKind::shiftedPatch; });
        };
        sheet().select(all[7]);
        chooseMics({PatchMics::Which::these, {"kick_in"}});
        QTest::keyClick(window_.get(), Qt::Key_U, Qt::ControlModifier);
        for (int i = 0; i < 3; ++i)
            QTest::keyClick(window_.get(), Qt::Key_Right, Qt::AltModifier | Qt::ShiftModifier);
        QVERIFY(!warned());
        control<QDoubleSpinBox>("Warn of shifts over")->setValue(2);
        QVERIFY(warned());
    }
    void allAreListedAndTakenBack() {
        action("silence-toms")->trigger();
        QVERIFY(patches().size() >= 1);
        turnTo("Patches page");
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
