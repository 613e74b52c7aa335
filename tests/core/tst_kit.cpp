#include "import/folder_import.h"
#include "kit/kit_check.h"
#include "pipeline/candidate_cache.h"
#include "pipeline/outcome.h"
#include "support/built_kit.h"
#include "support/temp_folder.h"

#include <QtTest>

#include <random>

using namespace lampo;
using namespace lampo::test;

namespace {

struct Rig {
    Session session;
    Analyses analyses;

    explicit Rig(const std::filesystem::path& folder) : session(*importFolder(folder)) { listen(); }
    void listen() { (void)analyseMissing(session, analyses, Listen::toEveryMic, {}); }
    KitCheck check() const { return checkKit(session, {}, analyses, {}); }
};

} // namespace

/// What files say about the kit, and what is remembered about them.
class TestKit : public QObject {
    Q_OBJECT
    TempFolder folder_;

private slots:
    void initTestCase() {
        buildTake(folder_ / "take", 'B', 30,
                  {"kick_in", "snare_top", "snare_bottom", "tom_rack", "overhead_left", "room"});
    }
    void filesThatStartTogetherAreLeftAlone() {
        const Rig rig(folder_ / "take");
        QVERIFY(rig.check().starts.empty());
    }
    void aFalseStartIsFoundAndPutRight_data() {
        QTest::addColumn<QString>("stem");
        QTest::addColumn<double>("seconds");
        QTest::newRow("overhead half a second early") << "overhead_left" << -0.5;
        QTest::newRow("snare 40 ms late") << "snare_top" << 0.04;
        QTest::newRow("kick two seconds late") << "kick_in" << 2.0; // the highest guide itself
    }
    void aFalseStartIsFoundAndPutRight() {
        QFETCH(QString, stem);
        QFETCH(double, seconds);
        Rig rig(folder_ / "take");
        const MicIndex mic = *rig.session.micNamed(stem.toStdString());
        const FrameCount shift = toFrames(Seconds{seconds}, rig.session.rate);
        SetOffsets displace{0, std::vector<std::optional<FrameCount>>(rig.session.mics.size())};
        displace.offsets[mic] = shift;
        const Session before = rig.session;
        rig.session = *edited(rig.session, displace);
        rig.listen();
        const auto check = rig.check();
        QCOMPARE(check.starts.size(), std::size_t{1});
        QCOMPARE(check.starts[0].mic, mic);
        // To within the time sound takes through the kit.
        QVERIFY(std::abs((check.starts[0].late - shift).frames) < toFrames(kitSize, rig.session.rate).frames);
        rig.session = *edited(rig.session, startTogetherEdit(rig.session, check));
        rig.listen();
        QVERIFY(rig.check().starts.empty());
        QVERIFY(rig.session.take().files[mic].offset < FrameCount{600});
    }
    void aSnareFromBelowIsOfOppositePolarity() {
        const Rig rig(folder_ / "take");
        const auto pairs = rig.check().polarity;
        QCOMPARE(pairs.size(), std::size_t{1});
        QCOMPARE(rig.session.mics[pairs[0].second].stem, std::string("snare_bottom"));
        QVERIFY(pairs[0].opposite());
        auto turned = readAudio(folder_.path() / "take" / "snare_bottom.wav");
        for (float& sample : turned)
            sample = -sample;
        std::filesystem::create_directory(folder_ / "turned");
        for (const char* stem : {"kick_in", "snare_top", "tom_rack"})
            std::filesystem::copy(folder_.path() / "take" / (std::string(stem) + ".wav"), folder_ / "turned");
        writeAudio(folder_.path() / "turned" / "snare_bottom.wav", turned);
        const Rig other(folder_ / "turned");
        const auto alike = other.check().polarity;
        QVERIFY(!alike[0].opposite() && alike[0].likeness > 0.35);
    }
    void candidatesAreRememberedByContent() {
        const TempFolder place;
        const auto project = place / "song.lampo";
        const auto cache = cacheFolderOf(project);
        Rig rig(folder_ / "take");
        Analyses first;
        QVERIFY(analyseMissing(rig.session, first, Listen::toEveryMic, {}, cache).has_value());
        const auto kept = contents(cache);
        QCOMPARE(kept.size(), rig.session.mics.size());

        // The same sound under another name and in another place is known; it is not even listened to.
        std::filesystem::copy(folder_ / "take", place / "moved");
        Session moved = *importFolder(place / "moved");
        const auto found = cachedCandidates(cache, analysisKey(moved, moved.take(), {0}));
        QVERIFY(found && std::filesystem::exists(*found));
        const auto known = readCandidates(*found);
        QVERIFY(known.has_value());
        QVERIFY(known->candidates == first.of(analysisKey(rig.session, rig.session.take(), {0}))->candidates);
        QCOMPARE(known->strong.value, first.of(analysisKey(rig.session, rig.session.take(), {0}))->strong.value);

        // Another emphasis, offset or content is something else.
        AnalysisKey other = analysisKey(moved, moved.take(), {0});
        other.emphasis[2] = 0.5;
        QVERIFY(*cachedCandidates(cache, other) != *found);
        other = analysisKey(moved, moved.take(), {0});
        other.source.offset = FrameCount{1};
        QVERIFY(*cachedCandidates(cache, other) != *found);
        writeAudio(moved.take().files[0].file, std::vector<float>(1000, 0.1F));
        QVERIFY(*cachedCandidates(cache, analysisKey(moved, moved.take(), {0})) != *found);
        std::filesystem::remove(moved.take().files[0].file);
        QVERIFY(!cachedCandidates(cache, analysisKey(moved, moved.take(), {0})));
    }
    /// A format that is changed leaves no fuzzer at its first bytes.
    void theFuzzersCandidatesAreRead() {
        std::size_t files = 0;
        for (const auto& entry : std::filesystem::directory_iterator(LAMPO_CORPUS "/candidates")) {
            QVERIFY2(readCandidates(entry.path()), entry.path().c_str());
            ++files;
        }
        QVERIFY(files > 1);
    }
    void aDamagedCacheIsMadeAnew() {
        const TempFolder place;
        const auto file = place / "x.candidates";
        MicAnalysis analysis;
        analysis.sounds = AttackSounds({44100});
        std::vector<float> sound(analysis.sounds.framesWanted());
        for (int i = 0; i < 50; ++i) {
            analysis.candidates.push_back({SourceFrame{1000 * i}, {-0.5 * i}, {10.0 + i}, {1, 0.5F, 0, 0.25F}, {}});
            if (i % 3 == 1)
                analysis.candidates.back().like = SourceFrame{1000 * i - 1000};
            sound[sound.size() / 2 + static_cast<std::size_t>(i)] = 1;
            analysis.sounds.add(sound);
        }
        QVERIFY(writeCandidates(file, analysis).has_value());
        QVERIFY(readCandidates(file)->candidates == analysis.candidates);
        QCOMPARE(readCandidates(file)->sounds.rate().hz, 44100);
        QVERIFY(readCandidates(file)->sounds.samples() == analysis.sounds.samples());
        const std::string good = readBytes(file);
        std::mt19937 random(2);
        for (int round = 0; round < 300; ++round) {
            std::string bad = good;
            bad[std::uniform_int_distribution<std::size_t>(0, bad.size() - 1)(random)] ^=
                static_cast<char>(std::uniform_int_distribution<>(1, 255)(random));
            writeBytes(file, bad);
            if (const auto read = readCandidates(file)) { // only the level of the strong hits may differ unseen
                QVERIFY(read->candidates == analysis.candidates);
                QVERIFY(read->sounds.samples() == analysis.sounds.samples());
            }
            writeBytes(file,
                       good.substr(0, std::uniform_int_distribution<std::size_t>(0, good.size() - 1)(random)));
            QVERIFY(!readCandidates(file));
        }
    }
    void strokesAreKeptWhileThresholdsChange() {
        Rig rig(folder_ / "take");
        const auto before = outcomeOf(rig.session, rig.analyses);
        rig.session = *edited(rig.session, SetThreshold{0, {-40}});
        const auto after = outcomeOf(rig.session, rig.analyses, before.get());
        QVERIFY(after->takes[0]->strokes == before->takes[0]->strokes);
        QVERIFY(after->hits == outcomeOf(rig.session, rig.analyses)->hits);
        rig.session = *edited(rig.session, SetGuide{*rig.session.micNamed("tom_rack"), false});
        const auto fewer = outcomeOf(rig.session, rig.analyses, after.get());
        QVERIFY(fewer->takes[0]->strokes != after->takes[0]->strokes);
        QVERIFY(fewer->hits == outcomeOf(rig.session, rig.analyses)->hits);
    }
};

QTEST_APPLESS_MAIN(TestKit)
#include "tst_kit.moc"
