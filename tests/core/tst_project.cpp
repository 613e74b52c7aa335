#include "base/whole_file.h"
#include "deliver/print.h"
#include "edits/edit.h"
#include "import/folder_import.h"
#include "import/source_search.h"
#include "project/project_file.h"
#include "project/project_json.h"
#include "session/pieces.h"
#include "support/built_kit.h"
#include "support/random_timing_edit.h"
#include "support/temp_folder.h"

#include <QtTest>
#include <nlohmann/json.hpp>

#include <random>

using namespace lampo;
using namespace lampo::test;

namespace {

Session fullSession() {
    Session session;
    session.title = "Tide \"two\" \\ é";
    session.rate = {44100};
    session.mics = kitOf({"kick", "snare", "room"});
    session.mics[1].threshold = {-31.5};
    session.mics[2].mute = true;
    session.mics[1].label = "Snare, the loud one";
    session.mics[1].emphasis = BandWeights{0.05, 0.5, 1, 0.25};
    session.mics[1].judgesBleed = false;
    session.mics[2].group = "rooms";
    session.mics[2].linked = true;
    const auto file = [](const char* path, std::int64_t length, std::int64_t offset = 0, int channel = 0) {
        return SourceFile(path, channel, FrameCount{offset}, FrameCount{length});
    };
    session.takes = {
        {'A',
         "/p/A",
         {file("/p/A/kick.wav", 1000), file("/elsewhere/snare.wav", 900, 50), {}},
         {},
         FrameCount{1000}},
        {'B',
         "/p/B",
         {file("/p/B/kick.wav", 2000, -7), file("/p/B/snare.wav", 2000), file("/p/B/room.wav", 1800, 0, 1)},
         FrameCount{-77},
         FrameCount{2000}}};
    session.companions = {{"bass", file("/p/bass.flac", 3000, 12, SourceFile::everyChannel), {-3}, true}};
    session.takes[1].note = "the loud one";
    session.takes[1].tint = 5;
    session.comp = {{{SongFrame{0}, TakeIndex{1}, {}},
                     {SongFrame{400}, TakeIndex{0}, FrameCount{-30}},
                     {SongFrame{500}, std::nullopt, {}},
                     {SongFrame{600}, TakeIndex{1}, {}}},
                    {{SongFrame{400}, {25}}}};
    session.form = {
        {SongFrame{0}, FrameCount{0}}, {SongFrame{700}, std::nullopt}, {SongFrame{900}, FrameCount{200}}};
    session.ratings = {{'A', 2, 3}, {'B', 2, 1}};
    session.tries = {{{SongFrame{100}, SongFrame{300}},
                      {{SongFrame{100}, TakeIndex{0}, {}}, {SongFrame{200}, TakeIndex{1}, {}}}}};
    session.map = {SongFrame{123}, {{1, {4, 4}}, {9, {7, 8}}}, {{1, {99.5}}, {4, {120}, true}, {12, {90}}}};
    session.sections = {{"Quay", 1, 4, NoteValue{1, 12}, 60.0}, {"Sea", 5, 8, {}, {}}};
    session.sections[0].finest = Finest{{1, 8}, {30}};
    session.sections[1].detection = {{"kick", Decibels{-33}, {}, false}, {"snare", {}, Milliseconds{25}, {}}};
    session.finest = Finest{{1, 32}, {12}};
    session.timing = {{1, 8}, 72.5};
    session.timing.swing = 58;
    session.timing.pocket = {4.5};
    session.timing.pull = Pull::toEdge;
    session.timing.reach = Reach{0.5, true};
    session.timing.drumTimings[static_cast<std::size_t>(Voice::hat)] = DrumTiming::ride;
    session.assign = Assign::nearest;
    session.clusters = {{30}, Anchor::middle};
    session.sections[1].swing = 66.5;
    session.sections[1].pocket = Milliseconds{0};
    session.sections[1].pull = Pull::toLine;
    session.sections[1].reach = Reach{80, false};
    session.sections[1].drumTimings = DrumTimings{DrumTiming::land, DrumTiming::stay};
    session.seams = {{7.5}, {4}, Fill::open};
    session.corrections = {{Correction::Kind::add, 'A', SourceFrame{5}, {}, Voice::snare},
                           {Correction::Kind::place, 'B', SourceFrame{900}, FrameCount{127}}};
    for (const auto kind :
         {Correction::Kind::cut, Correction::Kind::remove, Correction::Kind::split, Correction::Kind::pin})
        session.corrections.push_back({kind, 'A', SourceFrame{2000}});
    session.corrections.push_back(
        {Correction::Kind::mark, 'A', SourceFrame{3000}, {}, Voice::other, SourceFrame{3010}});
    session.corrections.push_back(
        {Correction::Kind::join, 'A', SourceFrame{4000}, {}, Voice::other, SourceFrame{4900}});
    session.corrections.push_back(
        {Correction::Kind::anchor, 'A', SourceFrame{5000}, {}, Voice::other, {}, "snare"});
    session.corrections.push_back({Correction::Kind::drum, 'A', SourceFrame{6000}, {}, Voice::tom});
    auto kept = std::make_shared<Session>(session);
    kept->timing.strength = 40;
    session.versions = {{"Rough", "2026-11-20 18:05", "/p/print 1", kept}};
    return session;
}

} // namespace

class TestProject : public QObject {
    Q_OBJECT
private slots:
    void everythingComesBack() {
        const auto back = sessionFromText(projectText(fullSession(), "/p"), "/p", "x");
        QVERIFY2(back.has_value(), back ? "" : back.error().sentence.c_str());
        QVERIFY(*back == fullSession());
        QCOMPARE(projectText(*back, "/p"), projectText(fullSession(), "/p"));
    }
    void aMovedProjectFindsItsFiles() {
        const auto moved = sessionFromText(projectText(fullSession(), "/p"), "/q", "x");
        QCOMPARE(moved->takes[0].files[0].file.string(), std::string("/q/A/kick.wav"));
        QCOMPARE(moved->takes[0].files[1].file.string(), std::string("/elsewhere/snare.wav"));
    }
    void namesThatAreNoTextComeBack() {
        Session session = fullSession();
        const std::string odd = "caf\xe9 \xff\xc3";
        session.title = odd;
        session.mics[0].stem = odd;
        session.takes[0].files.change(0, [&](SourceFile& source) { source.file = "/p/A/" + odd + ".wav"; });
        session.takes[0].folder = "/p/" + odd;
        session.versions[0].print = "/elsewhere/" + odd;
        const auto back = sessionFromText(projectText(session, "/p"), "/p", "x");
        QVERIFY2(back.has_value(), back ? "" : back.error().sentence.c_str());
        QVERIFY(*back == session);
        const TempFolder folder;
        std::filesystem::create_directory(folder / odd);
        for (const char* stem : {"kick", "snare \xfc"})
            writeAudio(folder.path() / odd / (std::string(stem) + ".wav"), std::vector<float>(1000, 0.1F));
        const auto imported = importFolder(folder / odd);
        QVERIFY2(imported.has_value(), imported ? "" : imported.error().sentence.c_str());
        QVERIFY(saveProject(*imported, folder.path() / odd / (odd + ".lampo")).has_value());
        const auto opened = loadProject(folder.path() / odd / (odd + ".lampo"));
        QVERIFY2(opened.has_value(), opened ? "" : opened.error().sentence.c_str());
        QVERIFY(*opened == *imported);
        QVERIFY(checkSources(*opened).empty());
    }
    /// Forty states of an afternoon's work, of which each says what the one before does not.
    void versionsShareWhatIsTheSame() {
        for (unsigned seed = 1; seed <= 20; ++seed) {
            std::mt19937 random(seed);
            Session session = fullSession();
            Session now = *session.versions.front().session;
            for (std::int64_t at = 0; at < 200; ++at)
                now.corrections.push_back({Correction::Kind::pin, 'A', SourceFrame{10000 + 10 * at}});
            for (int version = 0; version < 40; ++version) {
                const auto next = edited(now, randomTimingEdit(random));
                now = next ? *next : now;
                session.versions.push_back(
                    {"State " + std::to_string(version), "", {}, std::make_shared<Session>(now)});
            }
            const std::string text = projectText(session, "/p");
            const auto back = sessionFromText(text, "/p", "x");
            QVERIFY2(back.has_value(), back ? "" : back.error().sentence.c_str());
            QVERIFY(*back == session);
            QVERIFY2(text.size() < 12 * projectText(now, "/p").size(), qPrintable(QString::number(text.size())));
            // And without one in the middle, as when it is deleted.
            session.versions.erase(session.versions.begin() + static_cast<std::ptrdiff_t>(random() % 40));
            QVERIFY(*sessionFromText(projectText(session, "/p"), "/p", "x") == session);
        }
    }
    /// As they were written before versions shared anything.
    void wholeVersionsAreRead() {
        Session session = fullSession();
        session.versions.push_back({"Later", "", {}, std::make_shared<Session>(*session.versions[0].session)});
        auto stored = nlohmann::json::parse(projectText(session, "/p"));
        stored["versions"][1]["session"] = stored["versions"][0]["session"];
        stored["versions"][1].erase("differs");
        const auto back = sessionFromText(stored.dump(), "/p", "x");
        QVERIFY2(back.has_value(), back ? "" : back.error().sentence.c_str());
        QVERIFY(*back == session);
    }
    /// Small texts that say of a thousand versions that each is nearly as the large one before.
    void versionsThatUnfoldWithoutEndAreRefused() {
        Session session = fullSession();
        Session large = *session.versions.front().session;
        for (std::int64_t at = 0; at < 50000; ++at)
            large.corrections.push_back({Correction::Kind::pin, 'A', SourceFrame{10000 + at}});
        session.versions.front().session = std::make_shared<Session>(large);
        auto stored = nlohmann::json::parse(projectText(session, "/p"));
        for (int version = 1; version < 1000; ++version)
            stored["versions"].push_back(
                {{"name", "n"}, {"kept", ""}, {"differs", {{"title", std::to_string(version)}}}});
        const auto back = sessionFromText(stored.dump(), "/p", "x");
        QVERIFY(!back);
        QVERIFY(back.error().sentence.find("versions") != std::string::npos);
    }
    void damageIsRefused_data() {
        QTest::addColumn<QString>("from");
        QTest::addColumn<QString>("to");
        QTest::newRow("another schema") << "lampo-project-1"
                                        << "lampo-project-9";
        QTest::newRow("rate") << "44100"
                              << "0";
        QTest::newRow("rate as text") << "44100"
                                      << "\"fast\"";
        QTest::newRow("strength") << "72.5"
                                  << "1e300";
        QTest::newRow("grid") << "\"1/8\""
                              << "\"1/7\"";
        QTest::newRow("role") << "\"kick\""
                              << "\"gong\"";
        QTest::newRow("anchor") << "\"middle\""
                                << "\"first\"";
        QTest::newRow("one hit") << "\"cluster_window_ms\": 30"
                                 << "\"cluster_window_ms\": 3000";
        QTest::newRow("threshold") << "-31.5"
                                   << "31.5";
        QTest::newRow("meter unit") << "\"unit\": 8"
                                    << "\"unit\": 7";
        QTest::newRow("map order") << "\"bar\": 9"
                                   << "\"bar\": 1";
        QTest::newRow("no such take") << "\"take\": \"B\"\n  },\n  {"
                                      << "\"take\": \"K\"\n  },\n  {";
        QTest::newRow("letter") << "\"letter\": \"B\""
                                << "\"letter\": \"BB\"";
        QTest::newRow("missing key") << "\"corrections\""
                                     << "\"corections\"";
        QTest::newRow("a path for a name") << "\"stem\": \"kick\""
                                           << "\"stem\": \"../rec/kick\"";
        QTest::newRow("an absolute path for a name") << "\"stem\": \"kick\""
                                                     << "\"stem\": \"/rec/kick\"";
        QTest::newRow("a name with a NUL") << "\"stem\": \"kick\""
                                           << "\"stem\": \"kick\\u0000x\"";
        QTest::newRow("a file of 2^40 frames") << "\"length\": 1000"
                                               << "\"length\": 1099511627776";
        QTest::newRow("huge number") << "\"at\": 900"
                                     << "\"at\": 99999999999999999999999";
    }
    void damageIsRefused() {
        QFETCH(QString, from);
        QFETCH(QString, to);
        QString text = QString::fromStdString(projectText(fullSession(), "/p"));
        QVERIFY(text.contains(from));
        text.replace(text.indexOf(from), from.size(), to);
        const auto read = sessionFromText(text.toStdString(), "/p", "\"pier.lampo\"");
        QVERIFY(!read);
        QCOMPARE(read.error().kind, ErrorKind::damagedProject);
        QVERIFY(read.error().sentence.find("pier.lampo") != std::string::npos);
    }
    void hostileTextDoesNoHarm() {
        const std::string good = projectText(fullSession(), "/p");
        std::mt19937 random(1);
        for (std::size_t length = 0; length < good.size() - 2; length += 7)
            QVERIFY(!sessionFromText(good.substr(0, length), "/p", "x"));
        int survived = 0;
        for (int round = 0; round < 3000; ++round) {
            std::string bad = good;
            for (int change = 0; change < 3; ++change)
                bad[std::uniform_int_distribution<std::size_t>(0, bad.size() - 1)(random)] =
                    static_cast<char>(std::uniform_int_distribution<>(0, 255)(random));
            if (const auto read = sessionFromText(bad, "/p", "x"))
                survived += !piecesOf(*read).empty() || read->empty(); // whatever is accepted is whole
        }
        QVERIFY(survived < 3000);
        QVERIFY(!sessionFromText(std::string(100000, '['), "/p", "x"));
        QVERIFY(!sessionFromText(R"({"a":)" + std::string(50000, '[') + std::string(50000, ']') + "}", "/p", "x"));
    }
    void savingIsAtomic() {
        const TempFolder folder;
        const auto file = folder / "x.lampo";
        QVERIFY(saveProject(fullSession(), file).has_value());
        const auto before = contents(folder.path());
        std::filesystem::create_directory(folder / "y.lampo");
        writeBytes(folder.path() / "y.lampo" / "z", "");
        QVERIFY(!writeAtomically(folder / "y.lampo", "text")); // a folder bears that name
        std::filesystem::remove_all(folder / "y.lampo");
        QVERIFY(contents(folder.path()) == before);
        QVERIFY(!writeAtomically(folder.path() / "nowhere" / "x.lampo", "text"));
    }
    void foldersThatDoNotFit_data() {
        QTest::addColumn<QString>("what");
        QTest::addColumn<int>("kind");
        QTest::newRow("missing") << "missing" << static_cast<int>(ErrorKind::notFound);
        QTest::newRow("empty") << "empty" << static_cast<int>(ErrorKind::noAudio);
        QTest::newRow("rates") << "rates" << static_cast<int>(ErrorKind::rateDiffers);
        QTest::newRow("lengths") << "lengths" << static_cast<int>(ErrorKind::lengthDiffers);
        QTest::newRow("too many") << "too many" << static_cast<int>(ErrorKind::badValue);
        QTest::newRow("same stem") << "same stem" << static_cast<int>(ErrorKind::badValue);
    }
    void foldersThatDoNotFit() {
        QFETCH(QString, what);
        QFETCH(int, kind);
        const TempFolder folder;
        auto input = folder.path();
        if (what == "missing")
            input /= "nowhere";
        else if (what != "empty") {
            const std::vector<float> samples(1000, 0.1F);
            writeAudio(folder / "kick.wav", samples);
            writeAudio(folder / "snare.wav", what == "lengths" ? std::vector<float>(999, 0.1F) : samples,
                       SampleFormat::wav24, {what == "rates" ? 44100 : 48000});
            for (int extra = 0; what == "too many" && extra < 64; ++extra)
                writeAudio(folder / ("x" + std::to_string(extra) + ".wav"), samples);
            if (what == "same stem")
                writeAudio(folder / "kick.flac", samples, SampleFormat::flac24);
        }
        const auto imported = importFolder(input);
        QVERIFY(!imported);
        QCOMPARE(static_cast<int>(imported.error().kind), kind);
    }
    void aPrintNeverTouchesTheRecording() {
        const TempFolder folder;
        std::filesystem::create_directory(folder / "take");
        writeAudio(folder.path() / "take" / "kick.wav", std::vector<float>(5000, 0.1F));
        const auto session = importFolder(folder / "take");
        const auto plan = std::make_shared<const Plan>(asPlayedPlan({}, {}, FrameCount{5000}));
        const auto before = contents(folder / "take");
        QVERIFY(!print(*session, plan, {folder / "take", SampleFormat::wav24}, {}));
        QVERIFY(print(*session, plan, {folder / "out", SampleFormat::flac24}, {}).has_value());
        QVERIFY(contents(folder / "take") == before);
        QVERIFY(std::filesystem::exists(folder.path() / "out" / "kick.flac"));
        std::stop_source stop;
        stop.request_stop();
        const auto stopped = print(*session, plan, {folder / "other", SampleFormat::wav24}, {{}, stop.get_token()});
        QVERIFY(!stopped && stopped.error().kind == ErrorKind::cancelled);
        QVERIFY(!std::filesystem::exists(folder / "other")); // not even the folder
    }
};

QTEST_APPLESS_MAIN(TestProject)
#include "tst_project.moc"
