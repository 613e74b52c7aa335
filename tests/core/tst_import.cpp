#include "edits/edit.h"
#include "import/folder_import.h"
#include "import/import_plan.h"
#include "import/source_search.h"
#include "import/take_names.h"
#include "project/kit_layout.h"
#include "project/project_file.h"
#include "project/project_json.h"
#include "support/built_kit.h"
#include "support/temp_folder.h"

#include <QtTest>

#include <sndfile.h>
#include <random>
#include <set>

using namespace lampo;
using namespace lampo::test;

namespace {

void write(const std::filesystem::path& file, std::size_t frames = 1000, int rate = 48000) {
    std::filesystem::create_directories(file.parent_path());
    writeAudio(file, std::vector<float>(frames, 0.1F), SampleFormat::wav24, {rate});
}

void writeStereo(const std::filesystem::path& file, std::size_t frames = 1000) {
    SF_INFO info{0, 48000, 2, SF_FORMAT_WAV | SF_FORMAT_PCM_24, 0, 0};
    SNDFILE* out = sf_open(file.c_str(), SFM_WRITE, &info);
    const std::vector<float> samples(2 * frames, 0.1F);
    sf_writef_float(out, samples.data(), static_cast<sf_count_t>(frames));
    sf_close(out);
}

std::string takesOf(const ImportPlan& plan) {
    std::string letters;
    for (const TakeLetter letter : plan.takes())
        letters += letter.text();
    return letters;
}

const ImportItem* itemOf(const ImportPlan& plan, const std::string& file, int channel = 0) {
    for (const ImportItem& item : plan.items)
        if (item.source.file.filename() == file && item.source.channel == channel)
            return &item;
    return nullptr;
}

} // namespace

class TestImport : public QObject {
    Q_OBJECT
private slots:
    void namesOfTakes_data() {
        QTest::addColumn<QStringList>("stems");
        QTest::addColumn<int>("mics"); // 0: one take only
        QTest::addColumn<int>("takes");
        QTest::newRow("spoken") << QStringList{"kick_take1", "snare_take1", "kick_take2", "snare_take2"} << 2 << 2;
        QTest::newRow("in front") << QStringList{"Take 1 Kick", "Take 1 Snare", "Take 2 Kick", "Take 2 Snare"} << 2
                                  << 2;
        QTest::newRow("bare numbers") << QStringList{"Kick-01",  "Snare-01", "Kick-02",
                                                     "Snare-02", "Kick-03",  "Snare-03"}
                                      << 2 << 3;
        QTest::newRow("bare letters") << QStringList{"kick A", "sn A", "kick B", "sn B"} << 2 << 2;
        QTest::newRow("racks are no takes")
            << QStringList{"kick", "snare", "rack 1", "rack 2", "floor 1"} << 0 << 0;
        QTest::newRow("only racks") << QStringList{"rack 1", "rack 2"} << 0 << 0;
        QTest::newRow("left and right") << QStringList{"oh L", "oh R", "room L", "room R"} << 0 << 0;
        QTest::newRow("numbered channels") << QStringList{"01 kick", "02 snare", "03 oh"} << 0 << 0;
        QTest::newRow("one take spoken of") << QStringList{"kick_take1", "snare_take1"} << 0 << 0;
    }
    void namesOfTakes() {
        QFETCH(QStringList, stems);
        QFETCH(int, mics);
        QFETCH(int, takes);
        std::vector<std::string> names;
        for (const QString& stem : stems)
            names.push_back(stem.toStdString());
        const auto split = takesByName(names);
        QCOMPARE(split.has_value(), mics > 0);
        std::set<std::string> foundMics, foundTakes;
        for (const TakeName& name : split.value_or(std::vector<TakeName>{})) {
            foundMics.insert(name.mic);
            foundTakes.insert(name.take);
        }
        QCOMPARE(static_cast<int>(foundMics.size()), mics);
        QCOMPARE(static_cast<int>(foundTakes.size()), takes);
    }
    void aFolderOfTakes() {
        const TempFolder folder;
        for (const char* take : {"A", "B", "C"})
            for (const char* mic : {"kick", "snare"})
                write(folder / (std::string(take) + "/" + mic + ".wav"));
        write(folder / "C/room.wav");
        write(folder / "music/bass.wav", 5000);
        const auto plan = planImport({folder.path()});
        QVERIFY(plan.has_value());
        QCOMPARE(takesOf(*plan), std::string("ABC"));
        QVERIFY(itemOf(*plan, "bass.wav")->use == ImportItem::Use::companion);
        const auto session = sessionOf(*plan);
        QCOMPARE(session->takes.size(), std::size_t{3});
        QCOMPARE(session->mics.size(), std::size_t{3});
        QVERIFY(session->takes[0].files[2].empty()); // takes A and B have no room mic
        QVERIFY(!session->takes[2].files[2].empty());
        QCOMPARE(session->companions.size(), std::size_t{1});
        QCOMPARE(session->companions[0].file.length.frames, std::int64_t{5000});
        const auto back = sessionFromText(projectText(*session, folder.path()), folder.path(), "x");
        QVERIFY(back && *back == *session);
        QVERIFY(checkSources(*session).empty());
    }
    void oneFolderWithTakesInItsNames() {
        const TempFolder folder;
        for (const char* name : {"Kick_take 1", "Snare_take 1", "Kick_take 2", "Snare_take 2"})
            write(folder / (std::string(name) + ".wav"));
        const auto session = sessionOf(*planImport({folder.path()}));
        QCOMPARE(session->takes.size(), std::size_t{2});
        QCOMPARE(session->mics.size(), std::size_t{2});
        QCOMPARE(session->mics[0].stem, std::string("Kick"));
        QCOMPARE(session->takes[1].files[1].file.filename().string(), std::string("Snare_take 2.wav"));
    }
    void otherNamesInAnotherTakeAreTheSameMics() {
        const TempFolder folder;
        for (const char* file : {"one/kick in.wav", "one/snare top.wav", "one/rack 1.wav", "two/BD_in.wav",
                                 "two/SnTop.wav", "two/Tom1.wav"})
            write(folder / file);
        const auto session = sessionOf(*planImport({folder.path()}));
        QCOMPARE(session->mics.size(), std::size_t{3});
        QCOMPARE(session->takes[1].files[0].file.filename().string(), std::string("BD_in.wav"));
        QCOMPARE(session->takes[1].files[2].file.filename().string(), std::string("Tom1.wav"));
    }
    void mendedFilesAndWhatIsSaidAboutThem() {
        const TempFolder folder;
        write(folder / "kick.wav", 48000);
        write(folder / "snare.wav", 48000);
        write(folder / "tom 1.wav", 22050, 44100); // half a second
        writeStereo(folder / "overheads.wav", 48000);
        writeBytes(folder / "room.wav", "");
        const auto plan = planImport({folder.path()});
        QVERIFY(plan.has_value());
        QCOMPARE(plan->rate.hz, 48000);
        QVERIFY(plan->notice(*itemOf(*plan, "kick.wav")).empty());
        const auto tom = plan->notice(*itemOf(*plan, "tom 1.wav"));
        QVERIFY2(tom.find("44100") != std::string::npos && tom.find("0.5 s") != std::string::npos, tom.c_str());
        QVERIFY(plan->notice(*itemOf(*plan, "overheads.wav", 1)).find("channel 2") != std::string::npos);
        QVERIFY(itemOf(*plan, "room.wav")->error.has_value());
        const auto session = sessionOf(*plan);
        QCOMPARE(session->mics.size(), std::size_t{5});
        const MicIndex left = *session->micNamed("overheads L"), right = *session->micNamed("overheads R");
        QVERIFY(right < session->mics.size() && session->mics[left].linked);
        QCOMPARE(session->mics[left].group, std::string("overheads"));
        const auto muted = edited(*session, SetMute{right, true});
        QVERIFY(muted->mics[left].mute && !muted->mics[0].mute); // linked mics go together
        QCOMPARE(session->take().length.frames, std::int64_t{48000});
        QVERIFY(!importFolder(folder.path())); // taken as it is, it is refused
        QVERIFY(checkSources(*session).empty());
        write(folder / "snare.wav", 47999);
        const auto changed = checkSources(*session);
        QCOMPARE(changed.size(), std::size_t{1});
        QVERIFY(changed[0].kind == SourceProblem::Kind::otherLength);
    }
    void whatIsNotReadIsNamed() {
        const TempFolder folder;
        write(folder / "kick.wav");
        write(folder / "snare.wav");
        for (const char* file : {"mix.mp3", "loop.OGG", "old.caf"})
            writeBytes(folder / file, "sound of another kind");
        writeBytes(folder / "notes.txt", "no sound");
        std::filesystem::create_symlink(folder / "nowhere.wav", folder / "a.wav"); // first and last by name
        std::filesystem::create_symlink(folder / "nowhere.wav", folder / "zz.wav");
        const auto plan = planImport({folder.path()});
        QVERIFY2(plan.has_value(), plan ? "" : plan.error().sentence.c_str());
        QCOMPARE(plan->items.size(), std::size_t{7});
        for (const char* file : {"mix.mp3", "loop.OGG", "old.caf", "a.wav", "zz.wav"}) {
            const auto* item = itemOf(*plan, file);
            QVERIFY2(item && item->error && item->error->sentence.find(file) != std::string::npos, file);
        }
        QCOMPARE(sessionOf(*plan)->mics.size(), std::size_t{2});
        const auto strict = importFolder(folder.path());
        QVERIFY(!strict && strict.error().sentence.find("a.wav") != std::string::npos);
    }
    void whatIsNotReadMakesNoTake() {
        const TempFolder folder;
        for (const char* file : {"first/kick.wav", "second/kick.wav"})
            write(folder / file);
        std::filesystem::create_directories(folder / "mixes");
        writeBytes(folder / "rough mix.mp3", "beside the takes");
        writeBytes(folder / "mixes" / "a.mp3", "in a folder between them");
        const auto plan = planImport({folder.path()});
        QVERIFY(plan.has_value());
        QCOMPARE(takesOf(*plan), std::string("AB"));
        QVERIFY(itemOf(*plan, "rough mix.mp3")->error && itemOf(*plan, "a.mp3")->error);
        const TempFolder only;
        writeBytes(only / "song.mp3", "nothing else");
        QVERIFY(itemOf(*planImport({only.path()}), "song.mp3")->error);
        QVERIFY(!sessionOf(*planImport({only.path()})));
    }
    void aFileThatLostItsLengthIsOfferedAndMended() {
        const TempFolder folder;
        write(folder / "kick.wav");
        write(folder / "snare.wav");
        auto bytes = readBytes(folder / "kick.wav");
        bytes.replace(bytes.find("data") + 4, 4, 4, '\0');
        writeBytes(folder / "kick.wav", bytes);
        const auto strict = importFolder(folder.path());
        QVERIFY(!strict && strict.error().sentence.find("kick.wav\" holds no length") != std::string::npos);
        const auto plan = planImport({folder.path()});
        QVERIFY(plan->notice(*itemOf(*plan, "kick.wav")).find("no length") != std::string::npos);
        QCOMPARE(sessionOf(*plan)->takes[0].files[0].length.frames, std::int64_t{1000});
    }
    void channelsAreNotCountedAsFiles() {
        const TempFolder folder;
        SF_INFO info{0, 48000, 65, SF_FORMAT_WAV | SF_FORMAT_PCM_16, 0, 0};
        SNDFILE* out = sf_open((folder / "all.wav").c_str(), SFM_WRITE, &info);
        const std::vector<float> samples(65 * 100, 0.1F);
        sf_writef_float(out, samples.data(), 100);
        sf_close(out);
        const auto plan = planImport({folder.path()});
        QVERIFY(!plan);
        QVERIFY2(plan.error().sentence.find("65 mics, each channel one") != std::string::npos,
                 plan.error().sentence.c_str());
    }
    void thePlanCanBeChanged() {
        const TempFolder folder;
        for (const char* file : {"a.wav", "b.wav", "c.wav"})
            write(folder / file);
        auto plan = *planImport({folder.path()});
        QCOMPARE(plan.mics.size(), std::size_t{3});
        plan.items[1].mic = plan.items[0].mic; // two files in one place
        plan.settle();
        QVERIFY(plan.items[1].error.has_value());
        plan.items[1].take = {'B'}; // in two takes
        plan.settle();
        QVERIFY(!plan.items[1].error);
        plan.items[2].use = ImportItem::Use::companion;
        plan.settle();
        const auto session = sessionOf(plan);
        QCOMPARE(session->mics.size(), std::size_t{1});
        QCOMPARE(session->takes.size(), std::size_t{2});
        QCOMPARE(session->companions.size(), std::size_t{1});
        for (ImportItem& item : plan.items)
            item.use = ImportItem::Use::leaveOut;
        plan.settle();
        const auto nothing = sessionOf(plan);
        QVERIFY(!nothing && nothing.error().kind == ErrorKind::noAudio);
    }
    void takesAreAddedToWhatIsThere() {
        const TempFolder folder;
        write(folder / "one/kick.wav");
        write(folder / "one/snare.wav");
        write(folder / "two/snare.wav", 2000);
        write(folder / "two/crash.wav", 2000);
        Session session = *importFolder(folder / "one");
        session = *edited(session, SetThreshold{1, {-33}});
        const auto plan = planImport({folder / "two"}, &session);
        QCOMPARE(takesOf(*plan), std::string("B"));
        const auto more = sessionOf(*plan, &session);
        QCOMPARE(more->takes.size(), std::size_t{2});
        QCOMPARE(more->mics.size(), std::size_t{3});
        QCOMPARE(more->mics[1].threshold.value, -33.0);
        QVERIFY(more->takes[0].files[2].empty() && more->takes[1].files[0].empty());
        QCOMPARE(more->takes[1].length.frames, std::int64_t{2000});
        const auto brought = edited(session, BringIn{std::make_shared<const Session>(*more)});
        QVERIFY(*brought == *more);
    }
    void aKitIsKeptAndUsedAgain() {
        const TempFolder folder;
        Session session;
        session.mics = kitOf({"kick", "snare", "rack", "oh"});
        session.mics[1].threshold = {-31};
        session.mics[1].label = "Snare";
        session.mics[1].mute = true;
        session.mics[3].emphasis = BandWeights{0.1, 0.2, 0.3, 0.4};
        session = *edited(session, MoveMic{3, 0});
        QVERIFY(saveKitLayout(session, folder / "k.lampo-kit").has_value());
        const auto kept = loadKitLayout(folder / "k.lampo-kit");
        QVERIFY(kept.has_value());
        Session next;
        next.mics = kitOf({"kick", "oh", "room", "snare"});
        next.takes = {{'A', "/", {"/k", "/o", "/r", "/s"}, {}, FrameCount{1}}};
        std::map<std::string, std::filesystem::path> files;
        for (std::size_t mic = 0; mic < next.mics.size(); ++mic)
            files[next.mics[mic].stem] = next.takes[0].files[mic].file;
        const auto arranged = edited(next, ArrangeKit{*kept});
        std::vector<std::string> order;
        for (std::size_t mic = 0; mic < arranged->mics.size(); ++mic) {
            order.push_back(arranged->mics[mic].stem);
            QVERIFY(arranged->takes[0].files[mic].file == files[order.back()]); // files go with their mics
        }
        QVERIFY((order == std::vector<std::string>{"oh", "kick", "snare", "room"}));
        QCOMPARE(arranged->mics[2].label, std::string("Snare"));
        QCOMPARE(arranged->mics[2].threshold.value, -31.0);
        QVERIFY(!arranged->mics[2].mute); // listening is no part of a kit
        QVERIFY(arranged->mics[0].emphasis == session.mics[0].emphasis);
    }
    void hostileLayoutsDoNoHarm() {
        const TempFolder folder;
        Session session;
        session.mics = kitOf({"kick", "snare"});
        const auto file = folder / "k.lampo-kit";
        QVERIFY(saveKitLayout(session, file).has_value());
        const std::string good = readBytes(file);
        std::mt19937 random(6);
        int refused = 0;
        for (int round = 0; round < 400; ++round) {
            std::string bad = good;
            for (int change = 0; change < 3; ++change)
                bad[std::uniform_int_distribution<std::size_t>(0, bad.size() - 1)(random)] =
                    static_cast<char>(std::uniform_int_distribution<>(0, 255)(random));
            writeBytes(file, bad);
            refused += !loadKitLayout(file);
        }
        QVERIFY(refused > 200);
        QVERIFY(!loadKitLayout(folder / "nowhere.lampo-kit"));
        writeBytes(file, "{}");
        QVERIFY(loadKitLayout(file).error().sentence.find("k.lampo-kit") != std::string::npos);
    }
    void projectsFromBeforeAreRead() {
        const std::string old = R"({"schema": "lampo-project-1", "title": "Pier", "sample_rate": 48000,
            "mics": [{"stem": "kick", "role": "kick", "guide": true, "threshold_db": -20, "shortest_gap_ms": 40,
                      "level_db": 0, "mute": false, "solo": false}],
            "takes": [{"letter": "A", "folder": "A", "files": ["A/kick.wav"], "start": 0, "length": 4800}],
            "companions": [{"name": "bass", "file": "bass.wav", "level_db": -6, "mute": false}], "sounding": 0,
            "map": {"origin": 0, "meters": [{"bar": 1, "beats": 4, "unit": 4}], "tempos": [{"bar": 1, "bpm": 120}]},
            "sections": [], "timing": {"grid": "1/16", "strength": 100},
            "seams": {"lead_in_ms": 10, "fade_ms": 6, "fill": "borrow"}, "cluster_window_ms": 15,
            "corrections": [{"kind": "pin", "take": "A", "at": 900, "landing": 0, "voice": "kick"},
                            {"kind": "place", "take": "A", "at": 2000, "landing": 2400, "voice": "kick"}]})";
        const auto session = sessionFromText(old, "/p", "x");
        QVERIFY2(session.has_value(), session ? "" : session.error().sentence.c_str());
        QCOMPARE(session->takes[0].files[0].length.frames, std::int64_t{4800});
        QCOMPARE(session->companions[0].file.file.string(), std::string("/p/bass.wav"));
        QVERIFY(session->mics[0].judgesBleed);
        QCOMPARE(session->corrections[1].moved.frames, std::int64_t{400});
        QVERIFY(session->comp == Comp{});
    }
    void besideTheKit_data() {
        QTest::addColumn<bool>("beside");
        for (const char* stem : {"Bass", "Bass DI", "gtr_L", "Guitar 2", "loop 104", "click", "Keys"})
            QTest::newRow(stem) << true;
        for (const char* stem : {"bass drum", "kick", "BD", "snare", "OH L", "Channel 7", "ride", "mono room"})
            QTest::newRow(stem) << false;
    }
    void besideTheKit() {
        QFETCH(bool, beside);
        QCOMPARE(soundsBesideTheKit(QTest::currentDataTag()), beside);
    }
};

QTEST_APPLESS_MAIN(TestImport)
#include "tst_import.moc"
