#include "app/seams_rig.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QTimer>

using namespace lampo;
using namespace lampo::test;

/// Seams as they are heard from the real window.
class TestSeamsHeardWindow : public SeamsRig {
    Q_OBJECT

private slots:
    void initTestCase() { makeTake({"kick_in", "snare_top", "tom_rack", "hihat", "overhead_left"}); }
    void init() { openSeams(); }
    void cleanup() { window_.reset(); }

    void aSeamIsHeardInALoop() {
        QTest::keyClick(window_.get(), Qt::Key_F9);
        QVERIFY(window_->notice().contains("Choose a seam first"));
        chooseFrom(3);
        QTest::keyClick(window_.get(), Qt::Key_F9);
        QVERIFY(window_->player().playing());
        QVERIFY(state().loop.contains(chosen().range.begin));
        QVERIFY(ms(chosen().range.begin - state().loop.begin) > 900);
        playFor({100});
    }
    /// Once around it, and by itself after each change; in one mic alone; as the rule would have it.
    void aSeamIsHeardAgainAfterEachChange() {
        PlayerControl& player = window_->player();
        chooseFrom(3);
        control<QDoubleSpinBox>("Run-up")->setValue(300);
        QTest::keyClick(window_.get(), Qt::Key_F9); // in a loop, until it is to be heard once
        QVERIFY(action("loop")->isChecked());
        player.stop();
        QTest::keyClick(window_.get(), Qt::Key_F9, Qt::ShiftModifier);
        QVERIFY(player.playing());
        QVERIFY(!action("loop")->isChecked());
        const auto from = static_cast<std::ptrdiff_t>(device_->recorded().size());
        playFor({2000});
        QTRY_VERIFY(!player.playing()); // to a little behind the seam
        const auto heard = std::vector<float>(device_->recorded().begin() + from, device_->recorded().end());
        QVERIFY(std::any_of(heard.begin(), heard.end(), [](float sample) { return sample != 0; }));
        auto* again = window_->findChild<QTimer*>("Play the seam again");
        QTest::keyClick(window_.get(), Qt::Key_PageUp, Qt::ShiftModifier);
        QVERIFY(!again->isActive());
        control<QCheckBox>("Play after each change")->click();
        QTest::keyClick(window_.get(), Qt::Key_PageUp, Qt::ShiftModifier);
        QTRY_VERIFY(player.playing());
        player.stop();
        sheet().stepSeam(1); // another seam is no change of this one
        QVERIFY(!again->isActive() && !player.playing());
        control<QCheckBox>("Play after each change")->click();
    }
    /// One mic alone: the other ones' sound is gone, as long as it can be seen why.
    void aSeamIsHeardInOneMic() {
        PlayerControl& player = window_->player();
        chooseFrom(3);
        auto* heardIn = control<QComboBox>("Seams heard in");
        QCOMPARE(heardIn->count(), 1 + static_cast<int>(document().session().mics.size()));
        const auto loudness = [&] { // dB over most of the run-up
            const auto begin = static_cast<std::ptrdiff_t>(device_->recorded().size());
            QTest::keyClick(window_.get(), Qt::Key_F9, Qt::ShiftModifier);
            playFor({900}); // always the same stretch: what is behind it is heard for as long as a timer takes
            player.stop();
            double energy = 1e-12;
            std::for_each(device_->recorded().begin() + begin, device_->recorded().end(),
                          [&](float sample) { energy += double{sample} * sample; });
            return 10 * std::log10(energy);
        };
        const double all = loudness();
        heardIn->setCurrentIndex(1);
        QVERIFY(player.heardAlone() == MicIndex{0});
        const double one = loudness();
        QVERIFY2(one < all - 1, qPrintable(QStringLiteral("%1 of %2 dB").arg(one).arg(all)));
        window_->goTo(Stop::timing);
        QVERIFY(!player.heardAlone());
        QVERIFY(std::abs(loudness() - all) < 0.5);
        window_->goTo(Stop::seams);
        QVERIFY(player.heardAlone() == MicIndex{0});
        QVERIFY(std::abs(loudness() - one) < 0.5);
        heardIn->setCurrentIndex(0);
        QVERIFY(!player.heardAlone());
    }
    void rulesAndCutsAreHeardInTurn() {
        PlayerControl& player = window_->player();
        // One of them at most, and both off is the edit.
        action("hear-raw")->trigger();
        action("hear-ruled")->trigger();
        QVERIFY(player.joints() == PlayerControl::Joints::byRule);
        QVERIFY(!action("hear-raw")->isChecked() && !state().raw);
        const auto ruled = ruledPlan(document().session(), document().outcome());
        QVERIFY(std::all_of(ruled->seams.begin(), ruled->seams.end(),
                            [](const Seam& seam) { return seam.by == PlacedBy::rule; }));
        action("hear-ruled")->trigger();
        QVERIFY(player.joints() == PlayerControl::Joints::asEdited);
    }
    /// What is landed with its holes open: judged for its timing alone.
    void theCutsAloneAreHeard() {
        const auto raw = rawPlan(document().session(), document().outcome());
        QVERIFY(std::any_of(raw->seams.begin(), raw->seams.end(),
                            [](const Seam& seam) { return seam.kind == SeamKind::opened; }));
        for (const Seam& seam : raw->seams)
            QVERIFY(seam.range.length() <= toFrames(shortestFade, {48000}));
        action("hear-raw")->trigger();
        QVERIFY(window_->player().joints() == PlayerControl::Joints::cutsAlone);
        QVERIFY(state().raw && state().plan() == *raw); // and seen
        const auto hole = std::find_if(raw->seams.begin(), raw->seams.end(),
                                       [](const Seam& seam) { return seam.kind == SeamKind::closed; });
        const auto heard = [&] {
            const auto before = static_cast<std::ptrdiff_t>(device_->recorded().size());
            window_->player().setCursor(hole->range.end - FrameCount{512});
            if (!window_->player().playing())
                window_->player().toggle();
            playFor({60});
            window_->player().stop();
            return std::vector<float>(device_->recorded().begin() + before, device_->recorded().end());
        };
        const auto open = heard();
        action("hear-raw")->trigger();
        QVERIFY(!state().raw);
        const auto filled = heard();
        QVERIFY(!open.empty() && open != filled);
    }
};

QTEST_MAIN(TestSeamsHeardWindow)
#include "tst_seams_heard_window.moc"
