#include "player/player.h"
#include "player/simulated_device.h"
#include "support/built_kit.h"
#include "support/hand_device.h"
#include "support/temp_folder.h"

#include <QtTest>

#include <cmath>

using namespace lampo;
using namespace lampo::test;

namespace {

constexpr std::int64_t length = 48000 * 4;

/// Seconds of sound that nobody would wait for to be mixed. Under thread sanitizer, where all takes a hundred times
/// as long, fewer are too many as well.
#ifdef __SANITIZE_THREAD__
constexpr int tooMuchToMix = 1200;
#else
constexpr int tooMuchToMix = 4 * 3600;
#endif

/// One mic whose samples are a slow ramp, so that what is heard tells its place; and the same take an octave of
/// gain away by level.
struct Rig {
    TempFolder folder;
    Session session;

    Rig() {
        std::vector<float> ramp(length);
        for (std::size_t i = 0; i < ramp.size(); ++i)
            ramp[i] = 0.1F + 0.5F * static_cast<float>(i) / static_cast<float>(length);
        writeAudio(folder / "ramp.wav", ramp, SampleFormat::wav32f);
        session.mics = {{.stem = "ramp"}};
        session.takes = {{'A', folder.path(), {folder / "ramp.wav"}, {}, FrameCount{length}}};
    }
    std::shared_ptr<const Programme> programme(double level = 0, bool click = false) const {
        auto made = std::make_shared<Programme>();
        made->session = session;
        made->session.mics[0].level = {level};
        made->plan = std::make_shared<const Plan>(asPlayedPlan({}, {}, FrameCount{length}));
        made->click = click;
        return made;
    }
};

/// A player whose device asks when the test lets it.
struct PlayerByHand {
    HandDevice& device;
    Player player;

    explicit PlayerByHand(std::unique_ptr<HandDevice> owned = std::make_unique<HandDevice>())
        : device(*owned), player(std::move(owned)) {}

    /// Whether the programme is heard from there on.
    bool starts(std::shared_ptr<const Programme> programme, ResultFrame from) {
        player.setProgramme(std::move(programme));
        player.play(from);
        return QTest::qWaitFor([&] { return device.pull(256).back() != 0; });
    }

    /// Asks for block after block, each when it has been mixed, until `done`; false after half a minute of sound.
    template <class Condition>
    bool playUntil(Condition&& done) {
        for (int block = 0; block < 30 * 48000 / 256; ++block) {
            if (done())
                return true;
            if (!QTest::qWaitFor([&] { return player.isMixedAhead(FrameCount{256}); }, 20000))
                return false;
            device.pull(256);
        }
        return false;
    }
};

/// Frames of the left channel from the first sound to the last.
std::vector<float> sounding(const HandDevice& device) {
    const auto& stereo = device.recorded();
    std::vector<float> left;
    for (std::size_t i = 0; i < stereo.size(); i += 2)
        if (!left.empty() || stereo[i] != 0)
            left.push_back(stereo[i]);
    while (!left.empty() && left.back() == 0)
        left.pop_back();
    return left;
}

} // namespace

class TestPlayer : public QObject {
    Q_OBJECT
private slots:
    void itPlaysToTheEndAndStops() {
        const Rig rig;
        PlayerByHand byHand(std::make_unique<HandDevice>(true));
        Player& player = byHand.player;
        player.setProgramme(rig.programme());
        player.play(ResultFrame{0});
        QVERIFY(byHand.playUntil([&] { return !player.playing(); }));
        QCOMPARE(player.trouble(), std::string());
        QCOMPARE(player.dropouts(), std::int64_t{0});
        const auto left = sounding(byHand.device);
        QVERIFY(left.size() > length * 9 / 10);
        // Headroom 0.5 and the middle of the pan, 1/√2; then every frame in its place.
        const double gain = 0.5 / std::sqrt(2.0);
        for (std::size_t i = 1000; i < left.size() - 2000; i += 501)
            QVERIFY(std::abs(left[i] / gain - (0.1 + 0.5 * static_cast<double>(i) / length)) < 1e-4);
    }
    void aNewProgrammeTakesOverWithoutAGap() {
        const Rig rig;
        PlayerByHand byHand(std::make_unique<HandDevice>(true));
        Player& player = byHand.player;
        player.setProgramme(rig.programme());
        player.play(ResultFrame{0});
        for (int change = 0; change < 20; ++change) {
            const auto next = player.position().frame + 2880; // 60 ms of song
            QVERIFY(byHand.playUntil([&] { return player.position().frame >= next; }));
            player.setProgramme(rig.programme(change % 2 == 0 ? -6 : 0));
        }
        const auto next = player.position().frame + 9600;
        QVERIFY(byHand.playUntil([&] { return player.position().frame >= next; }));
        QCOMPARE(player.dropouts(), std::int64_t{0});
        const auto left = sounding(byHand.device);
        QVERIFY(left.size() > 48000);
        // No zero, and no step larger than a crossfade of one block makes: the sound never broke off.
        for (std::size_t i = 512; i < left.size() - 1024; ++i) {
            QVERIFY2(left[i] > 0.01F,
                     qPrintable(QStringLiteral("%1 at %2 of %3").arg(left[i]).arg(i).arg(left.size())));
            QVERIFY(std::abs(left[i] - left[i - 1]) < 0.004F);
        }
        // And every new programme went on where the old one was: the ramp is in its place, at one level or the
        // other (but for the blocks in which they cross).
        std::size_t inPlace = 0, looked = 0;
        for (std::size_t i = 1000; i < left.size() - 1024; i += 101, ++looked) {
            const double full = 0.5 / std::sqrt(2.0) * (0.1 + 0.5 * static_cast<double>(i) / length);
            inPlace += std::abs(left[i] - full) < 2e-4 || std::abs(left[i] - full * 0.501187) < 2e-4;
        }
        QVERIFY2(inPlace * 10 > looked * 8, qPrintable(QStringLiteral("%1 of %2").arg(inPlace).arg(looked)));
    }
    void aJumpGoesThere() {
        const Rig rig;
        PlayerByHand byHand;
        Player& player = byHand.player;
        player.setProgramme(rig.programme());
        player.play(ResultFrame{0});
        QVERIFY(byHand.playUntil([&] { return player.position().frame > 2000; }));
        player.play(ResultFrame{100000});
        QVERIFY(byHand.playUntil([&] { return player.position().frame > 101000; }));
        QVERIFY(player.position().frame < 102000);
        player.stop();
        QVERIFY(!player.playing());
    }
    void aLoopComesRound() {
        const Rig rig;
        PlayerByHand byHand;
        Player& player = byHand.player;
        player.setProgramme(rig.programme());
        player.setLoop({ResultFrame{48000}, ResultFrame{60000}});
        player.play(ResultFrame{48000});
        bool wentBack = false;
        std::int64_t last = 0;
        QVERIFY(byHand.playUntil([&] {
            const auto now = player.position().frame;
            wentBack = wentBack || (last > 0 && now < last);
            last = now;
            return wentBack;
        }));
        QVERIFY(last >= 48000 && last < 60300);
        player.setLoop({});
        QVERIFY(byHand.playUntil([&] { return player.position().frame > 70000; }));
    }
    void theClickIsOnTheBeat() {
        Rig rig;
        rig.session.mics[0].mute = true;
        Mixer mixer(rig.programme(0, true));
        std::vector<float> stereo(2 * 96000);
        for (std::size_t at = 0; at < 96000; at += 256)
            mixer.mix(ResultFrame{static_cast<std::int64_t>(at)}, std::span(stereo).subspan(2 * at, 512));
        for (std::int64_t beat = 0; beat < 96000; beat += 24000) { // 120 BPM
            QVERIFY(beat == 0 || stereo[static_cast<std::size_t>(2 * (beat - 1))] == 0);
            QVERIFY(std::abs(stereo[static_cast<std::size_t>(2 * (beat + 9))]) > 0.05F);
        }
    }
    void aFileThatVanishedIsToldAndNothingCrashes() {
        Rig rig;
        PlayerByHand byHand;
        Player& player = byHand.player;
        std::filesystem::remove(rig.session.takes[0].files[0].file);
        player.setProgramme(rig.programme());
        player.play(ResultFrame{0});
        QVERIFY(byHand.playUntil([&] { return !player.trouble().empty(); }));
        QVERIFY(player.trouble().find("ramp.wav") != std::string::npos);
    }
    void aDeviceThatIsLostIsToldAndGoesOnWhereItWas() {
        const Rig rig;
        PlayerByHand byHand;
        auto& [device, player] = byHand;
        QVERIFY(byHand.starts(rig.programme(), ResultFrame{24000}));
        device.unplug();
        device.breakDown("no such device");
        QTRY_VERIFY(!player.trouble().empty());
        QCOMPARE(player.trouble(),
                 std::string("The audio device \"Hand\" was lost (no such device): playing goes on "
                             "when it is back"));
        QVERIFY(player.playing());
        const auto where = player.position();
        QTRY_COMPARE_WITH_TIMEOUT(player.trouble(), std::string("Hand is gone"), 10000); // tried in vain
        QCOMPARE(player.position(), where);
        device.plugIn();
        QTRY_VERIFY_WITH_TIMEOUT(device.callback(), 10000);
        const auto again = device.pull(256);
        const double gain = 0.5 / std::sqrt(2.0);
        const double wanted = 0.1 + 0.5 * static_cast<double>(where.frame + 256) / length;
        QVERIFY2(std::abs(again[0] / gain - wanted) < 1e-4, qPrintable(QString::number(again[0] / gain - wanted)));
        QTRY_COMPARE(player.trouble(), std::string());
        QCOMPARE(player.dropouts(), 0);
    }
    /// Told once, not taken back and told again at every edit.
    void troubleLastsAcrossNewProgrammes() {
        Rig rig;
        PlayerByHand byHand;
        auto& [device, player] = byHand;
        std::filesystem::remove(rig.session.takes[0].files[0].file);
        player.setProgramme(rig.programme());
        player.play(ResultFrame{0});
        QTRY_VERIFY(!player.trouble().empty());
        for (int change = 0; change < 30; ++change) {
            player.setProgramme(rig.programme(-change));
            for (int look = 0; look < 50; ++look) {
                device.pull(8);
                QVERIFY2(!player.trouble().empty(), qPrintable(QString::number(change)));
                std::this_thread::yield();
            }
        }
        writeAudio(rig.folder / "ramp.wav", std::vector<float>(length, 0.1F), SampleFormat::wav32f);
        player.setProgramme(rig.programme());
        QTRY_COMPARE(player.trouble(), std::string());
    }
    void aLoopSetWhilePlayingDoesNotMoveTheSound() {
        const Rig rig;
        PlayerByHand byHand;
        auto& [device, player] = byHand;
        QVERIFY(byHand.starts(rig.programme(), ResultFrame{0}));
        QTRY_VERIFY(player.isMixedAhead(FrameCount{20000}));
        device.pull(20000);
        const std::int64_t end = player.position().frame + 60000;
        player.setLoop({ResultFrame{0}, ResultFrame{end}}); // takes over within the next blocks
        float last = device.pull(256).back();
        std::int64_t furthest = 0;
        for (int block = 0; furthest < end - 3000; ++block) {
            QVERIFY(block < 4000 && player.dropouts() == 0);
            for (const float sample : device.pull(256)) {
                QVERIFY2(std::abs(sample - last) < 1e-5F, qPrintable(QString::number(furthest)));
                last = sample;
            }
            furthest = player.position().frame;
            QTRY_VERIFY(player.isMixedAhead(FrameCount{256}));
        }
        QTRY_VERIFY(!device.pull(256).empty() && player.position().frame < end - 3000); // and comes round
    }
    /// What the ear has passed is not mixed first: hours would take longer than anybody waits.
    void afterHoursThatWereMissedItGoesOnAtOnce() {
        const Rig rig;
        PlayerByHand byHand;
        auto& [device, player] = byHand;
        auto click = std::make_shared<Programme>(*rig.programme(0, true));
        click->plan = std::make_shared<const Plan>(asPlayedPlan({}, {}, FrameCount{48000LL * 3600 * 10}));
        QVERIFY(byHand.starts(click, ResultFrame{0}));
        for (int second = 0; second < tooMuchToMix; ++second)
            device.pull(48000);
        const auto before = player.dropouts();
        QVERIFY(before > 0);
        bool heard = false; // a click, within the next seconds of the song
        const auto listen = [&heard, &out = device] {
            const auto sound = out.pull(4800);
            return heard = heard || std::any_of(sound.begin(), sound.end(), [](float x) { return x != 0; });
        };
        QTRY_VERIFY(listen());
        QVERIFY(player.position().frame > 48000LL * tooMuchToMix);
    }
    void afterALongMissItGoesOn() {
        const Rig rig;
        PlayerByHand byHand;
        auto& [device, player] = byHand;
        QVERIFY(byHand.starts(rig.programme(), ResultFrame{0}));
        device.pull(48000 * 3); // more at once than is ever ready
        QVERIFY(player.dropouts() > 0);
        QTRY_VERIFY(device.pull(64).back() != 0);
        const double gain = 0.5 / std::sqrt(2.0);
        const auto sound = device.pull(256);
        QVERIFY(sound[0] / gain > 0.1 + 0.5 * 3 * 48000 / length); // where the song is by now
    }
    void whatWasHeardCanBeWritten() {
        const Rig rig;
        auto device = std::make_unique<SimulatedDevice>(2, true);
        SimulatedDevice& heard = *device;
        Player player(std::move(device));
        player.setProgramme(rig.programme());
        player.play(ResultFrame{0});
        QTRY_VERIFY(player.position().frame > 10000);
        QVERIFY(heard.writeRecorded(rig.folder / "heard.wav").has_value());
        QVERIFY(readAudio(rig.folder / "heard.wav").size() > 9000);
    }
};

QTEST_APPLESS_MAIN(TestPlayer)
#include "tst_player.moc"
