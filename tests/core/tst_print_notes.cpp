// What printed files say beside their samples, and that there is room for them.
#include "audio/audio_writer.h"
#include "deliver/print.h"
#include "deliver/print_notes.h"
#include "edits/edit.h"
#include "import/folder_import.h"
#include "support/built_kit.h"
#include "support/temp_folder.h"

#include <QtTest>

using namespace lampo;
using namespace lampo::test;

class TestPrintNotes : public QObject {
    Q_OBJECT

    /// Ten seconds at 48 kHz, 120 BPM; bars 2 and 4 begin sections.
    static Session songIn(const std::filesystem::path& folder) {
        Session session = *importFolder(folder);
        session = *edited(session, SetTempo{{120}});
        session.sections = {{"Boat out", 2, 2, {}, {}}, {"", 4, 1, {}, {}}, {"Harbour", 5, 1, {}, {}}};
        return session;
    }
    static void writeClocked(const std::filesystem::path& file, std::int64_t timeReference) {
        SoundFile sound{{Container::bwf, Encoding::int16}, {48000}};
        sound.notes.broadcast = Broadcast{"", "", "", "", timeReference, ""};
        auto writer = AudioWriter::create(file, sound);
        QVERIFY(writer && writer->write(std::vector<float>(480000, 0.1F)) && writer->close() && writer->commit());
    }

private slots:
    /// From the print's begin, at the print's rate, those inside it that have a name.
    void sectionsAreMarkedWhereTheyLieInThePrint() {
        const TempFolder folder;
        writeAudio(folder / "kick.wav", std::vector<float>(480000, 0.1F));
        const Session session = songIn(folder.path());
        PrintSettings settings{folder / "out", SampleFormat::wav24};
        QVERIFY(printNotes(session, settings).cues.empty());
        settings.markers = true;
        QVERIFY(printNotes(session, settings).cues ==
                (std::vector<CuePoint>{{96000, "Boat out"}, {384000, "Harbour"}}));
        settings.range = {ResultFrame{192000}, ResultFrame{480000}}; // bars 3 to 5
        settings.rate = SampleRate{96000};
        QVERIFY(printNotes(session, settings).cues == (std::vector<CuePoint>{{384000, "Harbour"}}));
    }

    /// Of a take that began at one o'clock and lies a second into the song, bar 2 is two seconds later, less that
    /// one.
    void printsLieOnTheRecordingsClock() {
        const TempFolder folder;
        writeClocked(folder / "kick.wav", std::int64_t{3600} * 48000);
        Session session = songIn(folder.path());
        PrintSettings settings{folder / "out", {Container::bwf, Encoding::int24}};
        const auto reference = [&] { return printNotes(session, settings).broadcast->timeReference; };
        QCOMPARE(reference(), std::int64_t{3600} * 48000);
        session.takes[0].start = FrameCount{48000};
        QCOMPARE(reference(), std::int64_t{3599} * 48000);
        settings.range = {ResultFrame{96000}, ResultFrame{192000}};
        QCOMPARE(reference(), std::int64_t{3601} * 48000);
        settings.rate = SampleRate{44100};
        QCOMPARE(reference(), std::int64_t{3601} * 44100);
        session.takes[0].start =
            FrameCount{std::int64_t{3601} * 48000}; // the song begins before midnight: from its begin
        QCOMPARE(reference(), std::int64_t{2} * 44100);
        writeAudio(folder / "kick.wav", std::vector<float>(480000, 0.1F)); // without a clock
        session.takes[0].start = {};
        QCOMPARE(reference(), std::int64_t{2} * 44100);
        settings.format = SampleFormat::wav24;
        QVERIFY(!printNotes(session, settings).broadcast);
    }

    /// Four terabytes are more than any disk of a test has.
    void roomIsLookedAtBeforeAnythingIsWritten() {
        const TempFolder folder;
        Session session;
        session.takes = {{'A', folder.path(), {}, {}, FrameCount{limits::frames}}};
        session.comp.passages = {{SongFrame{0}, TakeIndex{0}}};
        for (std::size_t mic = 0; mic < limits::mics; ++mic) {
            session.mics.push_back({.stem = "mic" + std::to_string(mic)});
            session.takes[0].files.emplace_back(folder / ("mic" + std::to_string(mic) + ".wav"));
        }
        PrintSettings settings{folder / "out", SampleFormat::wav32f};
        settings.rate = SampleRate{limits::highestRate};
        const auto plan = std::make_shared<const Plan>(asPlayedPlan({}, {}, FrameCount{limits::frames}));
        const auto refused = print(session, plan, settings, {});
        QVERIFY(!refused);
        QCOMPARE(refused.error().kind, ErrorKind::diskFull);
        QVERIFY2(refused.error().sentence.starts_with("The print takes "), refused.error().sentence.c_str());
        QVERIFY(!std::filesystem::exists(folder / "out"));
    }
};

QTEST_GUILESS_MAIN(TestPrintNotes)
#include "tst_print_notes.moc"
