#include "app/window_rig.h"
#include "stops/hits_panel.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QTableView>
#include <QToolButton>

using namespace lampo;
using namespace lampo::test;

/// The stop Hits, driven by mouse and keys.
class TestHitsWindow : public WindowRig {
    Q_OBJECT

    MicIndex snare() { return *document().session().micNamed("snare_top"); }
    /// The first candidate of a mic with this verdict, brought into the middle of the sheet.
    SheetState::CandidateRef candidate(std::size_t mic, Verdict verdict) {
        const auto& judged = found().judged[mic];
        for (std::size_t c = 10; c < judged.size(); ++c)
            if (judged[c].verdict == verdict) {
                const double at = static_cast<double>(state().candidateAt({mic, c}).frame);
                sheet().showRange(at - 20000, at + 20000);
                return {mic, c};
            }
        qFatal("no such candidate");
    }
    QPoint headOf(SheetState::CandidateRef ref) {
        return {static_cast<int>(state().axis.toX(static_cast<double>(state().candidateAt(ref).frame))),
                static_cast<int>(state().levelY(ref.mic, state().candidateOf(ref).level))};
    }
    int xOf(std::size_t hit) {
        return static_cast<int>(
            std::lround(state().axis.toX(static_cast<double>(document().outcome().landings[hit].played.frame))));
    }
    /// In the snare's lane, away from heads and the threshold.
    int quietY() { return state().playedBand(snare()).bottom() - 2; }

private slots:
    void initTestCase() { makeTake({"kick_in", "snare_top", "tom_rack", "overhead_left"}); }
    void init() {
        openWindow();
        window_->goTo(Stop::hits);
        window_->setShow(Show::asPlayed);
        QVERIFY(found().hits.size() > 30);
    }
    void cleanup() { window_.reset(); }

    void theThresholdLineIsDragged() {
        const auto before = found().hits.size();
        const int steps = document().history().count();
        sheet().showRange(0, 400000);
        const auto y =
            static_cast<int>(state().levelY(snare(), defaultThreshold(document().session().mics, Role::snare)));
        QVERIFY(state().thresholdUnder({300, y}) == snare());
        drag({300, y}, {300, static_cast<int>(state().levelY(snare(), {-6}))});
        QVERIFY(std::abs(document().session().mics[snare()].threshold.value + 6) <= 1);
        QVERIFY(found().hits.size() < before);
        QCOMPARE(document().history().count(), steps + 1); // one step for the whole gesture
        action("undo")->trigger();
        QCOMPARE(found().hits.size(), before);
    }
    void escapePutsTheThresholdBack() {
        sheet().showRange(0, 400000);
        const int steps = document().history().count();
        const auto y =
            static_cast<int>(state().levelY(snare(), defaultThreshold(document().session().mics, Role::snare)));
        QTest::mousePress(&sheet(), Qt::LeftButton, {}, {300, y});
        QTest::mouseMove(&sheet(), {300, y - 10});
        QMouseEvent move(QEvent::MouseMove, QPointF(300, y - 12), sheet().mapToGlobal(QPointF(300, y - 12)),
                         Qt::NoButton, Qt::LeftButton, {});
        QApplication::sendEvent(&sheet(), &move);
        QVERIFY(document().session().mics[snare()].threshold >
                defaultThreshold(document().session().mics, Role::snare));
        QTest::keyClick(&sheet(), Qt::Key_Escape);
        QTest::mouseRelease(&sheet(), Qt::LeftButton, {}, {300, y - 12});
        QCOMPARE(document().session().mics[snare()].threshold,
                 defaultThreshold(document().session().mics, Role::snare));
        QCOMPARE(document().history().count(), steps);
    }
    void aFaintHeadIsTakenIn() {
        const auto ref = candidate(snare(), Verdict::below);
        const SourceFrame at = state().candidateOf(ref).at;
        const auto before = found().hits.size();
        QTest::mouseClick(&sheet(), Qt::LeftButton, {}, headOf(ref));
        QVERIFY(found().judged[ref.mic][ref.index].verdict == Verdict::hit);
        QVERIFY(found().hits.size() >= before);
        QVERIFY(state().selected && found().hits[*state().selected].first <= at);
        QVERIFY(document().history().undoText().startsWith("Add"));
        action("undo")->trigger();
        QCOMPARE(found().hits.size(), before);
    }
    void bleedSaysWhereItComesFrom() {
        const auto ref = candidate(snare(), Verdict::bleed);
        QSignalSpy said(&sheet(), &SheetWidget::pointedAt);
        QTest::mouseMove(&sheet(), headOf(ref));
        QMouseEvent move(QEvent::MouseMove, QPointF(headOf(ref)), sheet().mapToGlobal(QPointF(headOf(ref))),
                         Qt::NoButton, Qt::NoButton, {});
        QApplication::sendEvent(&sheet(), &move);
        const auto from = document().session().mics[found().judged[ref.mic][ref.index].bleedFrom].stem;
        QVERIFY(said.last()[0].toString().contains(QString::fromStdString("Bleed from " + from)));
    }
    void addingAtThePointerSnapsToTheAttack() {
        const auto ref = candidate(snare(), Verdict::below);
        const SourceFrame attack = state().candidateOf(ref).at;
        const QPoint near(headOf(ref).x() + 5, quietY());
        QTest::mouseMove(&sheet(), near);
        QMouseEvent move(QEvent::MouseMove, QPointF(near), sheet().mapToGlobal(QPointF(near)), Qt::NoButton,
                         Qt::NoButton, {});
        QApplication::sendEvent(&sheet(), &move);
        QTest::keyClick(&sheet(), Qt::Key_A);
        const Correction snapped = document().session().corrections.back();
        QVERIFY(std::abs((snapped.at - attack).frames) < 60);
        QCOMPARE(snapped.mic, std::string("snare_top"));
        action("undo")->trigger();
        QTest::keyClick(&sheet(), Qt::Key_A, Qt::ShiftModifier); // exactly there
        const auto exact = static_cast<std::int64_t>(state().axis.toFrame(near.x()));
        QVERIFY(std::abs(document().session().corrections.back().at.frame - exact) <= 1);
        QTest::keyClick(&sheet(), Qt::Key_X, Qt::ShiftModifier); // or a cut without an attack
        QVERIFY(document().session().corrections.back().kind == Correction::Kind::cut);
    }
    void aStartIsDraggedAndStepped() {
        QTest::keyClick(&sheet(), Qt::Key_Right);
        std::size_t hit = 5;
        while (found().hits[hit].mic != snare() || found().hits[hit].level.value < -5)
            ++hit;
        const SourceFrame before = found().hits[hit].anchor;
        sheet().showRange(static_cast<double>(before.frame) - 3000, static_cast<double>(before.frame) + 3000);
        const QPoint from(xOf(hit), quietY());
        drag(from, from - QPoint(40, 0), Qt::NoModifier);
        const double moved = static_cast<double>((found().hits[hit].anchor - before).frames);
        QVERIFY(std::abs(moved + 40 * state().axis.framesPerPixel()) <= 2 * state().axis.framesPerPixel());
        QCOMPARE(found().hits[hit].found(), before);
        QTest::keyClick(&sheet(), Qt::Key_Right, Qt::ControlModifier);
        QCOMPARE(static_cast<double>((found().hits[hit].anchor - before).frames), moved + 24); // 0.5 ms
        QTest::keyClick(&sheet(), Qt::Key_P, Qt::ShiftModifier);                               // forgotten
        QCOMPARE(found().hits[hit].anchor, before);
    }
    void severalAreChosenAndCorrectedAtOnce() {
        sheet().showRange(0, 500000);
        const int y = state().layout.ladderPlayedY();
        QTest::mouseClick(&sheet(), Qt::LeftButton, {}, {xOf(2), y});
        QTest::mouseClick(&sheet(), Qt::LeftButton, Qt::ShiftModifier, {xOf(5), y});
        QCOMPARE(state().selection.size(), std::size_t{4});
        QTest::mouseClick(&sheet(), Qt::LeftButton, Qt::ControlModifier, {xOf(3), y});
        QVERIFY((state().selection == std::vector<HitIndex>{{2}, {4}, {5}}));
        const int steps = document().history().count();
        QTest::keyClick(&sheet(), Qt::Key_P);
        for (const std::size_t hit : {2, 4, 5})
            QVERIFY(document().outcome().landings[hit].state == LandingState::pinned);
        QCOMPARE(document().history().count(), steps + 1);
        QCOMPARE(state().selection.size(), std::size_t{3}); // still chosen
        const auto count = found().hits.size();
        QTest::keyClick(&sheet(), Qt::Key_Delete);
        QCOMPARE(found().hits.size(), count - 3);
        action("undo")->trigger();
        QCOMPARE(found().hits.size(), count);
    }
    void splitJoinAndDrum() {
        document().perform(SetGuide{3, true}); // the overhead hears what the others do
        document().perform(SetBleedJudging{3, false});
        settle();
        HitIndex both{1};
        while (both < found().hits.size() && std::popcount(found().hits[both].detectedBy) < 2)
            ++both;
        QVERIFY(both < found().hits.size());
        const auto count = found().hits.size();
        sheet().select(both);
        QTest::keyClick(&sheet(), Qt::Key_S);
        QVERIFY(found().hits.size() > count);
        action("undo")->trigger();
        sheet().select(both);
        QTest::keyClick(&sheet(), Qt::Key_J);
        QCOMPARE(found().hits.size(), count - 1);
        action("undo")->trigger();
        sheet().select(both);
        action("drum-tom")->trigger();
        QVERIFY(found().hits[both].voice == Voice::tom);
        auto* anchors = window_->findChild<QMenu*>("anchors");
        anchors->popup({0, 0});
        QVERIFY(anchors->actions().size() >= 2);
        const SourceFrame anchor = found().hits[both].anchor;
        anchors->actions().last()->trigger();
        anchors->hide();
        QVERIFY(found().hits[both].anchor != anchor);
        undoAll();
    }
    void weakCandidatesAreVisited() {
        document().perform(SetThreshold{snare(), {-20}}); // among the ghost notes
        QTest::keyClick(&sheet(), Qt::Key_W);
        QVERIFY(state().candidate);
        const SongFrame first = state().candidateAt(*state().candidate);
        const double above = found().judged[state().candidate->mic][state().candidate->index].above.value;
        QVERIFY(std::abs(above) <= 6);
        QTest::keyClick(&sheet(), Qt::Key_W);
        QVERIFY(state().candidateAt(*state().candidate) > first);
        QTest::keyClick(&sheet(), Qt::Key_W, Qt::ShiftModifier);
        QVERIFY(state().candidateAt(*state().candidate) == first);
        const auto ref = *state().candidate;
        if (found().judged[ref.mic][ref.index].verdict == Verdict::below) {
            QTest::keyClick(&sheet(), Qt::Key_A); // taken in without the mouse
            QVERIFY(found().judged[ref.mic][ref.index].verdict == Verdict::hit);
        }
    }
    void aHitIsHeardAndEnds() {
        sheet().select(HitIndex{4});
        for (const auto keys : {Qt::NoModifier, Qt::ShiftModifier, Qt::ControlModifier}) {
            QTest::keyClick(&sheet(), Qt::Key_Return, keys);
            QVERIFY(window_->player().playing());
            playFor(Milliseconds{3000});
            QVERIFY(!window_->player().playing()); // by itself
        }
        auto* hear = control<QToolButton>("Hear bands");
        hear->click();
        QVERIFY(window_->player().monitoredBands().has_value());
        hear->click();
        QVERIFY(!window_->player().monitoredBands());
    }
    void theTableAndTheSheetChooseTogether() {
        auto* view = control<QTableView>("Hits table");
        auto* sorted = qobject_cast<ChoiceModel*>(view->model());
        QCOMPARE(sorted->rowCount(), static_cast<int>(found().hits.size()));
        sheet().select(HitIndex{7});
        QCOMPARE(view->selectionModel()->selectedRows().size(), 1);
        QCOMPARE(sorted->itemAt(view->selectionModel()->selectedRows().front().row()), std::size_t{7});
        view->sortByColumn(2, Qt::AscendingOrder); // the softest first
        const QRect row = view->visualRect(sorted->index(0, 0));
        QTest::mouseClick(view->viewport(), Qt::LeftButton, {}, row.center());
        QVERIFY(state().selected);
        for (const Hit& hit : found().hits)
            QVERIFY(hit.level >= found().hits[*state().selected].level);
        const QRect third = view->visualRect(sorted->index(2, 0));
        QTest::mouseClick(view->viewport(), Qt::LeftButton, Qt::ShiftModifier, third.center());
        QCOMPARE(state().selection.size(), std::size_t{3});
        control<QLineEdit>("Hits filter")->setText("snare");
        const auto snares = std::count_if(found().hits.begin(), found().hits.end(), [&](const Hit& hit) {
            return hit.voice == Voice::snare || (hit.detectedBy & onlyMic(snare())) != 0;
        });
        QCOMPARE(sorted->rowCount(), static_cast<int>(snares));
    }
    void sectionsAndTheFinestNote() {
        Session session = document().session();
        session.sections = {{"Cove", 3, 2, {}, {}}};
        document().perform(BringIn{std::make_shared<const Session>(session)});
        control<QComboBox>("Guide")->setCurrentText("snare_top");
        control<QComboBox>("Where")->setCurrentIndex(1);
        control<QDoubleSpinBox>("Threshold")->setValue(-10);
        QCOMPARE(document().session().mics[snare()].threshold,
                 defaultThreshold(document().session().mics, Role::snare));
        QVERIFY(document().session().sections[0].detectionOf("snare_top")->threshold == Decibels{-10});
        control<QCheckBox>("Judge bleed")->click();
        QVERIFY(document().session().sections[0].detectionOf("snare_top")->judgesBleed == false);
        control<QToolButton>("As the song")->click();
        QVERIFY(document().session().sections[0].detection.empty());
        QCOMPARE(control<QDoubleSpinBox>("Threshold")->value(),
                 defaultThreshold(document().session().mics, Role::snare).value);
        const auto before = found().hits.size();
        control<QComboBox>("Where")->setCurrentIndex(0);
        auto* finest = control<QComboBox>("Finest note");
        finest->setCurrentIndex(1); // quarters
        emit finest->activated(1);
        QVERIFY(found().hits.size() < before);
        control<QDoubleSpinBox>("Near")->setValue(10);
        QCOMPARE(document().session().finest->near.value, 10.0);
        control<QDoubleSpinBox>("Band 0")->setValue(0.5);
        QVERIFY(document().session().mics[snare()].emphasis);
        settle();
        undoAll();
        QVERIFY(!document().session().finest && document().session().sections.empty());
    }
    void whatIsOneHitAndWhichStrokeLands() {
        document().perform(SetGuide{3, true}); // the overhead hears what the others do
        document().perform(SetBleedJudging{3, false});
        settle();
        auto* window = control<QDoubleSpinBox>("One hit within");
        auto* anchor = control<QComboBox>("Anchor");
        const ClusterSettings before = document().session().clusters;
        const auto together = [this] {
            return std::count_if(found().hits.begin(), found().hits.end(),
                                 [](const Hit& hit) { return std::popcount(hit.detectedBy) > 1; });
        };
        const auto anchors = [this] {
            std::vector<SourceFrame> all;
            for (const Hit& hit : found().hits)
                all.push_back(hit.anchor);
            return all;
        };
        const auto byRank = anchors();
        QVERIFY(together() > 0);
        window->setValue(0);
        QCOMPARE(document().session().clusters.window.value, 0.0);
        QCOMPARE(together(), 0);
        action("undo")->trigger();
        QCOMPARE(window->value(), before.window.value);
        anchor->setFocus();
        QTest::keyClick(anchor, Qt::Key_Down);
        QVERIFY(document().session().clusters.anchor == Anchor::loudest);
        QTest::keyClick(anchor, Qt::Key_Down);
        QVERIFY(document().session().clusters.anchor == Anchor::middle);
        QVERIFY(anchors() != byRank);
        undoAll();
        QCOMPARE(anchor->currentIndex(), 0);
        QVERIFY(document().session().clusters == before);
    }
    void strokesOfDrumsThatDoNotGuideAreShown() {
        document().perform(SetGuide{snare(), false});
        settle();
        sheet().showRange(0, static_cast<double>(document().session().length().frames));
        const QRect lane = state().playedBand(snare());
        QVERIFY(!lane.isEmpty());
        const QImage without = sheet().grab(lane).toImage();
        action("all-strokes")->trigger();
        QVERIFY(state().allStrokes);
        QVERIFY(sheet().grab(lane).toImage() != without);
        action("all-strokes")->trigger();
        QVERIFY(sheet().grab(lane).toImage() == without);
        undoAll();
    }
    void aDoubleClickSetsTheUsualThreshold() {
        control<QComboBox>("Guide")->setCurrentText("snare_top");
        auto* field = control<QDoubleSpinBox>("Threshold");
        field->setValue(-12);
        QCOMPARE(document().session().mics[snare()].threshold, Decibels{-12});
        QLabel* label = nullptr;
        for (QLabel* each : window_->findChildren<QLabel*>())
            if (each->text() == "Threshold" && each->isVisible())
                label = each;
        QVERIFY(label);
        QTest::mouseDClick(label, Qt::LeftButton);
        QCOMPARE(document().session().mics[snare()].threshold,
                 defaultThreshold(document().session().mics, Role::snare));
        undoAll();
    }
    void lostCorrectionsAreListedAndForgotten() {
        sheet().select(HitIndex{4});
        QTest::keyClick(&sheet(), Qt::Key_P);
        for (const std::size_t mic : {0, 1, 2})
            document().perform(SetGuide{mic, false});
        auto* lost = control<QLabel>("Lost corrections");
        QCOMPARE(found().lost.size(), std::size_t{1});
        QVERIFY(lost->isVisible() && lost->text().contains("pin"));
        for (int guide = 0; guide < 3; ++guide)
            action("undo")->trigger();
        QVERIFY(found().lost.empty() && !lost->isVisible());
        QVERIFY(document().outcome().landings[4].state == LandingState::pinned); // it holds again
    }
};

QTEST_MAIN(TestHitsWindow)
#include "tst_hits_window.moc"
