#include "player/device_watchdog.h"
#include "support/hand_device.h"

#include <QtTest>

using namespace lampo;
using namespace lampo::test;
using namespace std::chrono_literals;

/// Devices that are lost, refuse, and come back, with a clock of the test's own.
class TestDeviceWatchdog : public QObject {
    Q_OBJECT
    DeviceWatchdog::Clock::time_point now_{};
    struct Rig {
        HandDevice* device = new HandDevice;
        DeviceWatchdog watchdog{std::unique_ptr<AudioDevice>(device), [](std::span<float>) {}};
    };
    /// Time goes by; the device asks for sound every 10 ms, if it runs and `asks`.
    void pass(Rig& rig, std::chrono::milliseconds time, bool asks = true, SampleRate rate = {48000}) {
        for (; time > 0ms; time -= 10ms, now_ += 10ms) {
            if (asks)
                rig.device->pull(480);
            rig.watchdog.poll(rate, now_);
        }
    }

private slots:
    void aDeviceThatRunsIsLeftAlone() {
        Rig rig;
        pass(rig, 20s);
        QCOMPARE(rig.device->starts(), 1);
        QCOMPARE(rig.watchdog.trouble(), std::string());
    }
    void aDeviceThatStopsAskingIsToldAndTriedAgain() {
        Rig rig;
        pass(rig, 3s);
        pass(rig, 2900ms, false);
        QCOMPARE(rig.watchdog.trouble(), std::string());
        pass(rig, 300ms, false);
        QCOMPARE(rig.watchdog.trouble(),
                 std::string("The audio device \"Hand\" was lost (it stopped asking for sound): "
                             "playing goes on when it is back"));
        pass(rig, 5s, false);
        QVERIFY(rig.device->starts() >= 3);
        pass(rig, 2s);
        QCOMPARE(rig.watchdog.trouble(), std::string());
    }
    void aDeviceThatIsUnpluggedIsTriedUntilItIsBack() {
        Rig rig;
        pass(rig, 1s);
        rig.device->unplug();
        rig.device->breakDown("no such device");
        pass(rig, 100ms);
        QVERIFY(rig.watchdog.trouble().find("no such device") != std::string::npos);
        pass(rig, 10s);
        QVERIFY(!rig.watchdog.trouble().empty());
        QVERIFY(rig.device->starts() >= 5 && rig.device->starts() <= 15); // tried, not hammered
        rig.device->plugIn();
        pass(rig, 1500ms);
        QCOMPARE(rig.watchdog.trouble(), std::string());
        QVERIFY(rig.device->callback());
    }
    void aRefusedRateDoesNotStayInForce() {
        Rig rig;
        pass(rig, 1s);
        rig.device->refuse({96000});
        pass(rig, 500ms, true, {96000});
        QCOMPARE(rig.watchdog.trouble(), std::string("Hand does not take this rate"));
        pass(rig, 500ms, true, {48000});
        QCOMPARE(rig.watchdog.trouble(), std::string());
        QCOMPARE(rig.device->rate().hz, 48000);
        QVERIFY(rig.device->callback());
    }
    void aStandInIsToldAndTheDeviceLookedFor() {
        Rig rig;
        rig.device->setNotice("Stands in");
        pass(rig, 1s);
        QCOMPARE(rig.watchdog.trouble(), std::string("Stands in"));
        QCOMPARE(rig.device->starts(), 1);
        pass(rig, 20s);
        QVERIFY(rig.device->starts() >= 4 && rig.device->starts() <= 6);
        rig.device->setNotice({});
        pass(rig, 100ms);
        QCOMPARE(rig.watchdog.trouble(), std::string());
    }
    void aPauseIsNoLoss() {
        Rig rig;
        pass(rig, 1s);
        for (int i = 0; i < 500; ++i, now_ += 10ms) // nobody keeps it, it goes on asking
            rig.device->pull(480);
        pass(rig, 1s);
        QCOMPARE(rig.device->starts(), 1);
        QCOMPARE(rig.watchdog.trouble(), std::string());
    }
};

QTEST_APPLESS_MAIN(TestDeviceWatchdog)
#include "tst_device_watchdog.moc"
