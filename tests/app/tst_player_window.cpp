#include "app/window_rig.h"
#include "shell/transport_bar.h"
#include "support/hand_device.h"

using namespace lampo;
using namespace lampo::test;

/// What the window says when what is played cannot be heard.
class TestPlayerWindow : public WindowRig {
    Q_OBJECT

    QString notice() const {
        QString all;
        for (const QLabel* label : window_->findChild<TransportBar*>()->findChildren<QLabel*>())
            all += label->text() + '\n';
        return all;
    }
    QLabel* interruption() { return control<QLabel>("interruption"); }
    bool sounds() {
        const auto sound = device_->pull(1024);
        return std::any_of(sound.begin(), sound.end(), [](float x) { return x != 0; });
    }
    void press(Qt::Key key) { QTest::keyClick(&sheet(), key); }

private slots:
    void initTestCase() { makeTake({"kick_in", "snare_top"}, 10); }
    void init() { openWindow(); }

    void dropoutsAreShownUntilTheNextPlay() {
        press(Qt::Key_Space);
        QTRY_VERIFY(device_->callback());
        QTRY_VERIFY(sounds());
        QVERIFY(!interruption()->isVisible());
        device_->pull(48000 * 4); // more at once than can be ready
        QTRY_VERIFY(interruption()->isVisible());
        QVERIFY2(interruption()->text().contains("ms, last in bar"), qPrintable(interruption()->text()));
        press(Qt::Key_Space);
        QTRY_VERIFY(!window_->player().playing());
        QVERIFY(interruption()->isVisible()); // to be read
        press(Qt::Key_Space);
        QTRY_VERIFY(!interruption()->isVisible());
    }
    void aLostDeviceIsToldAndPlayingGoesOn() {
        press(Qt::Key_Space);
        QTRY_VERIFY(device_->callback());
        device_->unplug();
        device_->breakDown("no such device");
        QTRY_VERIFY2(notice().contains("was lost (no such device)"), qPrintable(notice()));
        QVERIFY(window_->player().playing());
        device_->plugIn();
        QTRY_VERIFY_WITH_TIMEOUT(device_->pull(64).size() == 128 && notice().contains("It plays again"), 10000);
        press(Qt::Key_Space);
        QTRY_VERIFY(!window_->player().playing());
    }
    void aMicThatVanishedIsToldAndTheOthersAreHeard() {
        std::filesystem::rename(folder_ / "take" / "kick_in.wav", folder_ / "kick.away");
        press(Qt::Key_Space);
        QTRY_VERIFY2(notice().contains("kick_in.wav"), qPrintable(notice()));
        QTRY_VERIFY(sounds());
        std::filesystem::rename(folder_ / "kick.away", folder_ / "take" / "kick_in.wav");
    }
};

QTEST_MAIN(TestPlayerWindow)
#include "tst_player_window.moc"
