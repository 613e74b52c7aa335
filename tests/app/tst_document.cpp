#include "document/document.h"
#include "support/built_kit.h"
#include "support/random_timing_edit.h"
#include "support/temp_folder.h"

#include <QSignalSpy>
#include <QtTest>

#include <limits>

using namespace lampo;
using namespace lampo::test;

class TestDocument : public QObject {
    Q_OBJECT
    TempFolder folder_;

    void openTake(Document& document) {
        QVERIFY(document.open(folder_ / "take").has_value());
        QTRY_VERIFY_WITH_TIMEOUT(!document.work().busy(), 30000);
    }

private slots:
    void initTestCase() { buildTake(folder_ / "take", 'C', 9, {"kick_in", "snare_top", "room"}); }

    void workArrivesInTheBackground() {
        Document document;
        QSignalSpy progress(&document.work(), &BackgroundWork::progressed);
        QVERIFY(document.open(folder_ / "take").has_value());
        QVERIFY(document.work().busy());
        QVERIFY(document.outcome().landings.empty()); // not waited for
        QTRY_VERIFY_WITH_TIMEOUT(!document.work().busy(), 30000);
        QVERIFY(document.outcome().landings.size() > 10);
        QVERIFY(progress.count() > 3);
        for (const auto& call : progress)
            QVERIFY(call[0].toDouble() >= 0 && call[0].toDouble() <= 1);
        for (const auto& file : document.session().take().files)
            QVERIFY(document.wave(file) != nullptr);
    }
    void editsWhileWorkingDoNotBeginItAnew() {
        Document document;
        QVERIFY(document.open(folder_ / "take").has_value());
        QSignalSpy finished(&document.work(), &BackgroundWork::finished);
        for (int i = 0; i < 20; ++i)
            document.perform(SetStrength{50.0 + i});
        QTRY_VERIFY_WITH_TIMEOUT(!document.work().busy(), 30000);
        QCOMPARE(finished.count(), 1);
        QVERIFY(document.outcome().landings.size() > 10);
    }
    void stoppedWorkTellsNothingMore() {
        Document document;
        QVERIFY(document.open(folder_ / "take").has_value());
        QSignalSpy changed(&document, &Document::changed);
        document.work().stop();
        QCoreApplication::processEvents(); // what was under way has told all that it will
        QCOMPARE(changed.count(), 0);
    }
    void oneGestureIsOneStep() {
        Document document;
        openTake(document);
        const int gesture = Document::newGesture();
        for (int percent = 99; percent > 60; --percent)
            QVERIFY(document.perform(SetStrength{static_cast<double>(percent)}, gesture));
        QCOMPARE(document.history().count(), 1);
        QVERIFY(document.perform(SetStrength{20}, Document::newGesture()));
        QCOMPARE(document.history().count(), 2);
        document.history().undo();
        QCOMPARE(document.session().timing.strength, 61.0);
        document.history().undo();
        QCOMPARE(document.session().timing.strength, 100.0);
    }
    void aGestureThatComesBackLeavesNoStep() {
        Document document;
        openTake(document);
        const int gesture = Document::newGesture();
        document.perform(SetStrength{50}, gesture);
        document.perform(SetStrength{100}, gesture);
        QCOMPARE(document.history().count(), 0);
        QCOMPARE(document.session().timing.strength, 100.0);
    }
    void settingWhatIsSetIsNoStep() {
        Document document;
        openTake(document);
        QVERIFY(document.perform(SetStrength{100}));
        QCOMPARE(document.history().count(), 0);
    }
    void refusalsAreToldAndChangeNothing() {
        Document document;
        openTake(document);
        QSignalSpy refused(&document, &Document::refused);
        const Session before = document.session();
        QVERIFY(!document.perform(SetStrength{300}));
        QCOMPARE(refused.count(), 1);
        QVERIFY(document.session() == before);
    }
    void allEditsUndoneIsTheSameSession() {
        Document document;
        openTake(document);
        const Session before = document.session();
        const std::vector<lampo::Edit> edits{
            SetTempo{{97}},
            SetMeter{{3, 4}},
            SetOrigin{SongFrame{4000}},
            SetGrid{{1, 8}},
            SetStrength{30},
            SetFade{{12}},
            SetGuide{2, true},
            SetThreshold{0, {-30}},
            MoveMic{0, 2},
            SetMute{1, true},
            SetRole{2, Role::tom},
            Correct{{Correction::Kind::add, 'A', SourceFrame{9999}, {}, Voice::other}}};
        for (const auto& edit : edits)
            QVERIFY(document.perform(edit));
        QCOMPARE(document.history().count(), static_cast<int>(edits.size()));
        while (document.history().canUndo())
            document.history().undo();
        QVERIFY(document.session() == before);
        QTRY_VERIFY_WITH_TIMEOUT(!document.work().busy(), 30000);
    }
    void randomTimingEditsUndoneAreTheSameSession() {
        Document document;
        openTake(document);
        const Session before = document.session();
        const auto landings = document.outcome().landings;
        for (unsigned seed = 0; seed < 6; ++seed) {
            std::mt19937 random(seed);
            int done = 0;
            for (int i = 0; i < 80; ++i)
                done += document.perform(randomTimingEdit(random));
            QVERIFY(done > 20);
            while (document.history().canUndo())
                document.history().undo();
            QVERIFY(document.session() == before);
            QCOMPARE(document.outcome().landings.size(), landings.size());
            for (std::size_t i = 0; i < landings.size(); ++i)
                QCOMPARE(document.outcome().landings[i].at, landings[i].at);
        }
    }
    void aBadFileIsNamed() {
        std::filesystem::copy(folder_ / "take", folder_ / "bad");
        std::vector<float> samples(9 * 48000, 0.1F);
        samples[70000] = std::numeric_limits<float>::quiet_NaN();
        writeAudio(folder_.path() / "bad" / "lantern.wav", samples, SampleFormat::wav32f);
        Document document;
        QSignalSpy notified(&document, &Document::notified);
        QVERIFY(document.open(folder_ / "bad").has_value());
        QTRY_VERIFY_WITH_TIMEOUT(!document.work().busy(), 30000);
        QCOMPARE(notified.count(), 1);
        QVERIFY(notified[0][0].toString().contains("lantern.wav"));
        QVERIFY(document.outcome().landings.size() > 10); // the others are heard all the same
    }
    void failingToOpenKeepsWhatIsOpen() {
        Document document;
        openTake(document);
        writeBytes(folder_ / "broken.lampo", "{");
        QVERIFY(!document.open(folder_ / "broken.lampo"));
        QVERIFY(!document.open(folder_ / "nowhere"));
        QCOMPARE(document.session().mics.size(), std::size_t{3});
    }
    void nearWaveformsAreTheSamples() {
        Document document;
        openTake(document);
        const SourceFile source = document.session().take().files[0];
        const auto samples = readAudio(source.file);
        WaveSource& wave = *document.wave(source);
        wave.prepare({SourceFrame{100000}, SourceFrame{101000}}, 1);
        for (std::int64_t at = 100000; at < 101000; at += 13) {
            const Extent extent = wave.extent({SourceFrame{at}, SourceFrame{at + 3}});
            const auto [low, high] = std::minmax_element(samples.begin() + at, samples.begin() + at + 3);
            QCOMPARE(extent.low, *low);
            QCOMPARE(extent.high, *high);
        }
        wave.prepare({SourceFrame{-500}, SourceFrame{500}}, 1); // before the file there is silence
        QCOMPARE(wave.extent({SourceFrame{-400}, SourceFrame{-300}}).high, 0.0F);
    }
};

QTEST_GUILESS_MAIN(TestDocument)
#include "tst_document.moc"
