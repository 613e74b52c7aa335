#include "app/window_rig.h"
#include "map/place_text.h"
#include "stops/timing/feel_page.h"
#include "stops/timing/hand_page.h"
#include "stops/timing/timing_panel.h"

#include <QComboBox>
#include <QDoubleSpinBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSlider>

using namespace lampo;
using namespace lampo::test;

/// Work by hand and feel, in the real window.
class TestHandWindow : public WindowRig {
    Q_OBJECT

    const std::vector<Landing>& landings() { return document().outcome().landings; }
    void click(const char* button) { QTest::mouseClick(control<QPushButton>(button), Qt::LeftButton); }
    void byHand() {
        window_->goTo(Stop::timing);
        click("By hand page");
    }
    /// Chooses by clicking in the ladder, the last with Shift.
    void choose(std::size_t first, std::size_t last) {
        sheet().reveal(landings()[first].at);
        for (const std::size_t hit : {first, last}) {
            const QPoint at(
                static_cast<int>(std::lround(state().axis.toX(static_cast<double>(landings()[hit].at.frame)))),
                state().layout.ladderLandedY());
            QTest::mouseClick(&sheet(), Qt::LeftButton, hit == first ? Qt::NoModifier : Qt::ShiftModifier, at);
        }
        QCOMPARE(state().selection.size(), last - first + 1);
    }
    void showBars(int first, int end) {
        const MusicalMap map(document().session().map, document().session().rate);
        sheet().showRange(static_cast<double>(map.barStart(first).frame),
                          static_cast<double>(map.barStart(end).frame));
    }
    /// A run of hits that land, far enough apart.
    std::size_t run(std::size_t count) {
        for (std::size_t first = 8, good = 0; first < landings().size(); ++first) {
            const bool apart = landings()[first].at - landings()[first - 1].at > FrameCount{5500};
            good = landings()[first].state == LandingState::landed && apart ? good + 1 : 0;
            if (good == count + 2)
                return first - count;
        }
        qFatal("no such run");
    }

private slots:
    void initTestCase() { makeTake({"kick_in", "snare_top", "tom_rack", "hihat"}, 30); }
    void init() { openWindow(); }
    void cleanup() { window_.reset(); }

    void hitsArePlacedNudgedAndSent() {
        byHand();
        const std::size_t hit = run(1);
        choose(hit, hit);
        const ResultFrame before = landings()[hit].at;
        const MusicalMap map(document().session().map, document().session().rate);
        auto* place = control<QLineEdit>("Lands at");
        QCOMPARE(place->text().toStdString(), placeText(map, SongFrame{before.frame}));
        place->setFocus();
        QTest::keyClick(place, Qt::Key_End);
        QTest::keyClicks(place, " +3ms");
        QTest::keyClick(place, Qt::Key_Return);
        QVERIFY(std::abs((landings()[hit].at - before).frames - 144) <= 14); // a thousandth of a beat is 27 frames
        place->selectAll();
        QTest::keyClicks(place, "nowhere");
        QTest::keyClick(place, Qt::Key_Return);
        QVERIFY(window_->notice().contains("12.3.250"));
        undoAll();
        document().perform(SetTempo{{104}});
        choose(hit, hit);
        control<QDoubleSpinBox>("Nudge amount")->setValue(1);
        click("Nudge later");
        click("Nudge later");
        QCOMPARE((landings()[hit].at - before).frames, 2); // samples
        document().history().undo();
        QCOMPARE(landings()[hit].at, before); // both were one step
        control<QComboBox>("Nudge unit")->setCurrentIndex(2);
        action("nudge-later")->trigger();
        const double sixteenth = 48000 * 15.0 / 104;
        QVERIFY(std::abs(static_cast<double>((landings()[hit].at - before).frames) - sixteenth) <= 1);
        document().history().undo();
        action("line-after")->trigger();
        QVERIFY(std::abs(static_cast<double>((landings()[hit].at - before).frames) - sixteenth) <= 1);
        action("line-before")->trigger();
        QCOMPARE(landings()[hit].at, before);
    }
    void phrasesAreMadeEasedAndDropped() {
        byHand();
        const std::size_t first = run(5);
        const auto before = landings();
        showBars(3, 12);
        choose(first, first + 4);
        click("Make phrase");
        QCOMPARE(document().session().phrases.size(), std::size_t{1});
        QCOMPARE(landings()[first + 2].state, LandingState::left);
        auto* slider = control<QSlider>("Eased by slider");
        slider->setFocus();
        QTest::keyClick(slider, Qt::Key_End);
        QCOMPARE(document().session().phrases[0].ease, 100.0);
        for (std::size_t hit = first; hit < first + 5; ++hit)
            QCOMPARE(landings()[hit].at, before[hit].at);
        click("Delete phrase");
        QVERIFY(document().session().phrases.empty());
        sheet().select(std::nullopt);
        click("Make phrase");
        QVERIFY(window_->notice().contains("Choose a hit"));
    }
    void passagesAreShovedAndSlipped() {
        byHand();
        const std::size_t first = run(4);
        const auto before = landings();
        showBars(3, 12);
        choose(first, first + 3);
        auto* field = control<QDoubleSpinBox>("Shoved by");
        field->setFocus();
        field->selectAll();
        QTest::keyClicks(field, "144.2");
        QTest::keyClick(field, Qt::Key_Return);
        QCOMPARE(document().session().shoves.size(), std::size_t{1});
        // By about a sixteenth: each means the next line.
        const double sixteenth = 48000 * 15.0 / 104;
        for (std::size_t hit = first; hit + 1 < first + 4; ++hit)
            QVERIFY(std::abs(static_cast<double>((landings()[hit].line->frame - before[hit].line->frame).frames) -
                             sixteenth) <= 1);
        auto* far = control<QSlider>("Shoved by slider"); // typed farther than it goes, it stays at its end
        field->setValue(700);
        QCOMPARE(far->value(), far->maximum());
        QCOMPARE(document().session().shoves[0].by.frames, std::int64_t{700 * 48});
        field->setValue(144.2);
        click("Best shove"); // back to where its drums fall
        for (std::size_t hit = first; hit < first + 4; ++hit)
            QCOMPARE(landings()[hit].line->frame, before[hit].line->frame);
        undoAll();
        document().perform(SetTempo{{104}});
        choose(first, first + 3);
        auto* slider = control<QSlider>("Slipped by slider");
        slider->setValue(7); // as a drag does, step by step
        slider->setValue(12);
        for (std::size_t hit = 0; hit < before.size(); ++hit)
            QCOMPARE((landings()[hit].at - before[hit].at).frames, first <= hit && hit < first + 4 ? 576 : 0);
        click("Clear by hand");
        QVERIFY(document().session().slips.empty());
    }
    void reachCountsMillisecondsOrSteps() {
        window_->goTo(Stop::timing);
        auto* counts = control<QComboBox>("Reach counts");
        auto* reach = control<QDoubleSpinBox>("Reach (0: any)");
        reach->setValue(60);
        QVERIFY(document().session().timing.reach == (Reach{60, false}));
        counts->setCurrentIndex(1);
        reach->setValue(0.5);
        QVERIFY(document().session().timing.reach == (Reach{0.5, true}));
        reach->setValue(0);
        QVERIFY(!document().session().timing.reach);
    }
    void figuresFollowTheSelection() {
        window_->goTo(Stop::timing);
        QCOMPARE(control<QLabel>("Figures of")->text(), QStringLiteral("The song"));
        showBars(3, 12);
        const std::size_t first = run(4);
        choose(first, first + 3);
        QVERIFY(control<QLabel>("Figures of")->text().contains("4 chosen"));
        QCOMPARE(control<QLabel>("Figure 2 1")->text(), QStringLiteral("0.0 ms")); // they landed
        document().perform(SetStrength{0});
        QCOMPARE(control<QLabel>("Figure 2 1")->text(), control<QLabel>("Figure 2 0")->text());
    }
    void feelIsTakenUsedWrittenAndRead() {
        window_->goTo(Stop::timing);
        click("Feel page");
        click("Feel of passage");
        QVERIFY(window_->notice().contains("loop"));
        const MusicalMap map(document().session().map, document().session().rate);
        sheet().setLoop({asResult(map.barStart(2)), asResult(map.barStart(6))});
        click("Feel of passage");
        QCOMPARE(document().session().feels.size(), std::size_t{1});
        QVERIFY(!document().session().timing.feel.straight());
        auto* name = control<QLineEdit>("Feel name");
        name->setFocus();
        name->selectAll();
        QTest::keyClicks(name, "tide");
        QTest::keyClick(name, Qt::Key_Return);
        QCOMPARE(document().session().timing.feel.name, std::string("tide"));
        const auto file = QString::fromStdString((folder_ / "tide.lampo-feel").string());
        auto* page = window_->findChild<FeelPage*>();
        page->writeFile(file);
        page->readFile(file);
        QCOMPARE(document().session().feels.size(), std::size_t{2});
        QCOMPARE(document().session().feels[1].name, std::string("tide 2"));
        QVERIFY(document().session().feels[1].points == document().session().feels[0].points);
        // A section has its own.
        document().perform(SetSections{{{"Pier", 3, 2, {}, {}}}, "x"});
        auto* where = control<QComboBox>("Feel where");
        auto* feels = control<QComboBox>("Feel");
        where->setCurrentIndex(1);
        QCOMPARE(feels->currentIndex(), 0); // as around it
        feels->setCurrentIndex(1);
        emit feels->activated(1);
        QVERIFY(document().session().sections[0].feel && document().session().sections[0].feel->straight());
        bool bends = false;
        for (const Landing& landing : landings())
            if (landing.line && document().session().sections[0].holds(landing.line->place.bar))
                QCOMPARE(landing.line->bent, FrameCount{});
            else
                bends |= landing.line && landing.line->bent != FrameCount{};
        QVERIFY(bends);
        document().perform(SetSections{{}, "none"}); // gone while it is shown
        QCOMPARE(where->currentIndex(), 0);
        QCOMPARE(feels->currentText(), QStringLiteral("tide 2"));
        control<QSlider>("Amount slider")->setValue(0);
        for (const Landing& landing : landings())
            QVERIFY(!landing.line || landing.line->bent == FrameCount{});
        click("Delete feel");
        QVERIFY(document().session().timing.feel.straight());
        page->readFile(QString::fromStdString((folder_ / "none.lampo-feel").string()));
        QVERIFY(window_->notice().contains("none.lampo-feel"));
    }
    QPoint landedHead(std::size_t hit) {
        return {static_cast<int>(std::lround(state().axis.toX(static_cast<double>(landings()[hit].at.frame)))),
                state().layout.ladderLandedY()};
    }
    void figuresAndSoundFollowTheHand() {
        window_->goTo(Stop::timing);
        const std::size_t first = run(4);
        sheet().showRange(static_cast<double>(landings()[first - 1].at.frame),
                          static_cast<double>(landings()[first + 4].at.frame));
        choose(first, first + 3);
        const auto shown = [&] { return control<QLabel>("Figure 2 1")->text(); };
        QCOMPARE(shown(), QStringLiteral("0.0 ms"));
        const int steps = document().history().count();
        const std::vector<Landing> before = landings();
        const auto plan = document().outcome().plan;
        const QPoint from = landedHead(first + 1);
        // About 9 ms, and far enough from the line that it snaps to.
        const int some = std::max(12, static_cast<int>(std::lround(9 * 48 / state().axis.framesPerPixel())));
        pressAndMove(sheet(), from, from + QPoint(some, 0), Qt::NoModifier);
        // All four go together, while the button is down; figures and plan with them.
        for (std::size_t i = 0; i < 4; ++i) {
            const double moved = static_cast<double>((landings()[first + i].at - before[first + i].at).frames);
            QVERIFY2(
                std::abs(moved - some * state().axis.framesPerPixel()) <= 1,
                qPrintable(
                    QStringLiteral("%1: %2 of %3").arg(i).arg(moved).arg(some * state().axis.framesPerPixel())));
        }
        QCOMPARE(landings()[first - 1].at, before[first - 1].at);
        QVERIFY(shown() != QStringLiteral("0.0 ms"));
        QVERIFY(document().outcome().plan != plan);
        QTest::keyClick(&sheet(), Qt::Key_Escape);
        QTest::mouseRelease(&sheet(), Qt::LeftButton, {}, from + QPoint(some, 0));
        QCOMPARE(shown(), QStringLiteral("0.0 ms"));
        QCOMPARE(document().history().count(), steps); // as if it had never been
        pressAndMove(sheet(), from, from + QPoint(some, 0));
        QTest::mouseRelease(&sheet(), Qt::LeftButton, {}, from + QPoint(some, 0));
        QCOMPARE(document().history().count(), steps + 1);
        action("undo")->trigger();
        for (std::size_t i = 0; i < landings().size(); ++i)
            QCOMPARE(landings()[i].at, before[i].at);
        // Back to where it was taken is no step at all.
        pressAndMove(sheet(), from, from + QPoint(some, 0));
        QCOMPARE(document().history().count(), steps + 1);
        QTest::mouseMove(&sheet(), from);
        QTest::mouseRelease(&sheet(), Qt::LeftButton, {}, from);
        QCOMPARE(document().history().count(), steps);
        QCOMPARE(landings()[first].at, before[first].at);
    }
    void draggingTellsItsLimits() {
        window_->goTo(Stop::timing);
        showBars(4, 6);
        const std::size_t hit = run(1);
        sheet().reveal(landings()[hit].at);
        const QPoint from(
            static_cast<int>(std::lround(state().axis.toX(static_cast<double>(landings()[hit].at.frame)))),
            state().layout.ladderLandedY());
        pressAndMove(sheet(), from, from - QPoint(1200, 0));
        QVERIFY(state().drag);
        QCOMPARE(state().drag->limit, SheetState::Limit::neighbour);
        QTest::keyClick(&sheet(), Qt::Key_Escape);
        QTest::mouseRelease(&sheet(), Qt::LeftButton, {}, from);
        const int far = static_cast<int>(70 * 48 / state().axis.framesPerPixel()); // opens 70 ms in front of it
        pressAndMove(sheet(), from, from + QPoint(far, 0));
        QVERIFY(state().drag && state().drag->limit != SheetState::Limit::none);
        QTest::keyClick(&sheet(), Qt::Key_Escape);
        QTest::mouseRelease(&sheet(), Qt::LeftButton, {}, from);
    }
    void aDraggedHitSticksToLines() {
        // One sixteenth to the right, a pixel or two beside the line: there it snaps, and with Ctrl it does not.
        window_->goTo(Stop::timing);
        std::size_t hit = 8;
        while (hit + 1 < landings().size() && !(landings()[hit].state == LandingState::landed &&
                                                landings()[hit + 1].at - landings()[hit].at > FrameCount{12000}))
            ++hit;
        QVERIFY(hit + 1 < landings().size());
        const FrameCount step = landings()[hit].line->step;
        sheet().showRange(static_cast<double>(landings()[hit].at.frame) - 24000,
                          static_cast<double>(landings()[hit].at.frame) + 24000);
        const ResultFrame line = landings()[hit].at + step;
        const QPoint from = landedHead(hit);
        const int pixels = static_cast<int>(static_cast<double>(step.frames) / state().axis.framesPerPixel()) + 2;
        QTest::mousePress(&sheet(), Qt::LeftButton, {}, from);
        const auto moveWith = [&](Qt::KeyboardModifiers keys) {
            const QPointF at = from + QPoint(pixels, 0);
            QMouseEvent move(QEvent::MouseMove, at, sheet().mapToGlobal(at), Qt::NoButton, Qt::LeftButton, keys);
            QApplication::sendEvent(&sheet(), &move);
        };
        moveWith({});
        QVERIFY(std::abs((landings()[hit].at - line).frames) <= 1); // lines are a sixteenth apart to the frame
        moveWith(Qt::ControlModifier);
        QVERIFY(landings()[hit].at - line > FrameCount{20});
        QTest::mouseRelease(&sheet(), Qt::LeftButton, {}, from);
    }
    void draggingTellsWhenHitsCannotBeCutApart() {
        // Of a pair played close together one is dragged so far off that its neighbour's short tail cannot fill it.
        window_->goTo(Stop::timing);
        const auto far = FrameCount{300 * 48}, apart = FrameCount{60 * 48};
        std::size_t second = 1;
        while (second + 1 < landings().size() &&
               landings()[second].at - landings()[second - 1].at < far + apart + FrameCount{40 * 48})
            ++second;
        QVERIFY(second + 1 < landings().size());
        const TakePlace place = placeOf(document().session(), document().outcome().hits[second - 1]);
        Correction near{Correction::Kind::add, place.take, place.at + apart};
        near.voice = Voice::snare;
        document().perform(Correct{near});
        QVERIFY(landings()[second].played - landings()[second - 1].played <= apart + FrameCount{48});
        sheet().showRange(static_cast<double>(landings()[second].at.frame) - 24000,
                          static_cast<double>(landings()[second].at.frame) + 24000);
        const ResultFrame first = landings()[second - 1].at;
        const QPoint from = landedHead(second);
        pressAndMove(
            sheet(), from,
            from + QPoint(static_cast<int>(static_cast<double>(far.frames) / state().axis.framesPerPixel()), 0));
        QVERIFY(state().drag);
        QCOMPARE(state().drag->limit, SheetState::Limit::joined);
        QVERIFY(landings()[second - 1].at > first); // it goes along
        QTest::keyClick(&sheet(), Qt::Key_Escape);
        QTest::mouseRelease(&sheet(), Qt::LeftButton, {}, from);
        QCOMPARE(landings()[second - 1].at, first);
    }
    void theClickIsWritten() {
        const auto file = folder_ / "click.wav";
        window_->kitFiles().writeClickTo(QString::fromStdString(file.string()), {});
        QVERIFY(std::filesystem::exists(file));
        QVERIFY(window_->notice().contains("click.wav"));
    }
};

QTEST_MAIN(TestHandWindow)
#include "tst_hand_window.moc"
