#include "mix/mixer.h"
#include "support/built_kit.h"
#include "support/temp_folder.h"

#include <QtTest>

#include <cmath>

using namespace lampo;
using namespace lampo::test;

namespace {

/// Mics of constant level 0.1, 0.2, 0.3 …, so that the mix tells who is in it.
struct Rig {
    TempFolder folder;
    Session session;

    explicit Rig(const std::vector<std::pair<std::string, Role>>& mics) {
        session.takes = {{'A', folder.path(), {}, {}, FrameCount{10000}}};
        float level = 0.1F;
        for (const auto& [stem, role] : mics) {
            writeAudio(folder / (stem + ".wav"), std::vector<float>(10000, level), SampleFormat::wav32f);
            session.mics.push_back({.stem = stem, .role = role});
            session.takes[0].files.emplace_back(folder / (stem + ".wav"));
            level += 0.1F;
        }
    }
    struct Mix {
        double left, right;
        std::string trouble;
    };
    Mix mixed(std::int64_t at = 5000) const {
        auto programme = std::make_shared<Programme>();
        programme->session = session;
        programme->plan = std::make_shared<const Plan>(asPlayedPlan({}, {}, FrameCount{10000}));
        Mixer mixer(programme);
        std::vector<float> stereo(512);
        mixer.mix(ResultFrame{at}, stereo);
        return {stereo[100], stereo[101], mixer.trouble()};
    }
    std::pair<double, double> mix(std::int64_t at = 5000) const {
        const Mix made = mixed(at);
        return {made.left, made.right};
    }
};

const double middle = 0.5 / std::sqrt(2.0); // headroom, and the middle of an equal power pan

bool near(double a, double b) {
    return std::abs(a - b) < 1e-4;
}

} // namespace

class TestMixer : public QObject {
    Q_OBJECT
private slots:
    /// Each from its place on, added where they meet, in place of the mics or beside them.
    void notesSoundWhereTheyLie() {
        const Rig rig({{"kick", Role::kick}});
        const auto click = std::make_shared<const std::vector<float>>(std::vector<float>{0.5F, 0.25F, 0.125F});
        auto programme = std::make_shared<Programme>();
        programme->session = rig.session;
        programme->plan = std::make_shared<const Plan>(asPlayedPlan({}, {}, FrameCount{10000}));
        programme->mics = false;
        programme->notes = std::make_shared<const NoteSounds>(NoteSounds{{ResultFrame{99}, 1, click},
                                                                         {ResultFrame{1000}, 0.5F, click},
                                                                         {ResultFrame{1001}, 1, click},
                                                                         {ResultFrame{1300}, 1, click}});
        Mixer mixer(programme);
        std::vector<float> stereo(2 * 1200);
        mixer.mix(ResultFrame{100}, stereo);
        const auto left = [&](int at) { return stereo[static_cast<std::size_t>(2 * (at - 100))]; };
        QCOMPARE(left(100), 0.125F); // the second sample of the one before, at half: the mixer's headroom
        QCOMPARE(left(999), 0.0F);
        QCOMPARE(left(1000), 0.125F);
        QCOMPARE(left(1001), 0.0625F + 0.25F);
        QCOMPARE(left(1002), 0.03125F + 0.125F);
        QCOMPARE(left(1299), 0.0F);
        QCOMPARE(stereo[1], stereo[0]);
        programme->mics = true;
        Mixer both(programme);
        both.mix(ResultFrame{100}, stereo);
        QVERIFY(left(999) > 0.01F);
    }
    void micsAddUp() {
        const auto [left, right] = Rig({{"kick", Role::kick}, {"snare", Role::snare}}).mix();
        QVERIFY(near(left, 0.3 * middle) && near(right, 0.3 * middle));
    }
    void muteAndSolo() {
        Rig rig({{"kick", Role::kick}, {"snare", Role::snare}, {"hat", Role::hat}});
        rig.session.mics[2].mute = true;
        QVERIFY(near(rig.mix().first, 0.3 * middle));
        rig.session.mics[1].solo = true;
        QVERIFY(near(rig.mix().first, 0.2 * middle));
        rig.session.mics[1].mute = true; // silence wins
        QVERIFY(near(rig.mix().first, 0));
    }
    void levels() {
        Rig rig({{"kick", Role::kick}});
        rig.session.mics[0].level = {6.0206};
        QVERIFY(near(rig.mix().first, 0.2 * middle));
    }
    void overheadsStandApart() {
        const auto [left, right] = Rig({{"overhead_left", Role::overhead}}).mix();
        QVERIFY(left > 3 * right && right > 0);
        QVERIFY(near(left * left + right * right, 0.1 * 0.1 * 0.25)); // equal power
    }
    void aMicThatCannotBeReadIsSilentAndTheOthersSound() {
        Rig rig({{"kick", Role::kick}, {"snare", Role::snare}, {"hat", Role::hat}});
        std::filesystem::remove(rig.folder / "snare.wav");
        QVERIFY(near(rig.mix().first, 0.4 * middle));
        const std::string trouble = rig.mixed().trouble;
        QVERIFY2(trouble.find("snare.wav") != std::string::npos, trouble.c_str());
    }
    void aCompanionThatCannotBeReadIsTold() {
        Rig rig({{"kick", Role::kick}});
        rig.session.companions = {{"bass", rig.folder / "bass.wav"}};
        const Rig::Mix made = rig.mixed(0);
        QVERIFY2(made.trouble.find("bass.wav") != std::string::npos, made.trouble.c_str());
        QVERIFY(near(made.left, 0.1 * middle));
    }
    void companionsSoundUnlessMuted() {
        Rig rig({{"kick", Role::kick}});
        writeAudio(rig.folder / "bass.wav", std::vector<float>(10000, 0.4F), SampleFormat::wav32f);
        rig.session.companions = {{"bass", rig.folder / "bass.wav", {0}, false}};
        QVERIFY(near(rig.mix().first, 0.1 * middle + 0.4 * 0.5));
        rig.session.companions[0].mute = true;
        QVERIFY(near(rig.mix().first, 0.1 * middle));
    }
    void companionsGoThroughTheFormAsTheTakesDo() {
        // A ramp that tells its place: bars repeated in the song are heard again, empty ones are silent.
        Rig rig({{"kick", Role::kick}});
        rig.session.mics[0].mute = true;
        std::vector<float> ramp(10000);
        for (std::size_t i = 0; i < ramp.size(); ++i)
            ramp[i] = static_cast<float>(i) / 10000;
        writeAudio(rig.folder / "bass.wav", ramp, SampleFormat::wav32f);
        rig.session.companions = {{"bass", rig.folder / "bass.wav", {0}, false}};
        rig.session.form = {
            {SongFrame{0}, FrameCount{0}}, {SongFrame{4000}, FrameCount{1000}}, {SongFrame{8000}, std::nullopt}};
        // The mix's sample 50 lies 50 frames behind its begin.
        QVERIFY(near(rig.mix(2000).first, 0.2050 * 0.5));
        QVERIFY(near(rig.mix(6000).first, 0.5050 * 0.5));
        QVERIFY(near(rig.mix(9000).first, 0));
        QVERIFY(rig.mix(3930).first < 0.1 * 0.398); // fades where the recording does not go on
    }
    void neverBeyondFullScale() {
        Rig rig({{"a", Role::other}, {"b", Role::other}, {"c", Role::other}, {"d", Role::other}});
        for (Mic& mic : rig.session.mics)
            mic.level = {12};
        QCOMPARE(rig.mix().first, 1.0);
    }
    void behindTheEndIsSilence() { QCOMPARE(Rig({{"kick", Role::kick}}).mix(20000).first, 0.0); }
};

QTEST_APPLESS_MAIN(TestMixer)
#include "tst_mixer.moc"
