#include "midi/midi_file.h"
#include "support/built_kit.h"
#include "support/program.h"
#include "support/temp_folder.h"

#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QtTest>

#include <sndfile.h>
#include <limits>

using namespace lampo;
using namespace lampo::test;

namespace {

Run run(const QStringList& arguments, bool tinyFiles = false) {
    return runProgram(LAMPO_CLI, arguments, {}, tinyFiles);
}

QJsonObject json(const std::filesystem::path& file) {
    return QJsonDocument::fromJson(QByteArray::fromStdString(readBytes(file))).object();
}

/// Slices tile the result, and source and result have the same length.
void checkSlices(const QJsonObject& report) {
    int at = 0;
    for (const auto& each : report["slices"].toArray()) {
        const auto slice = each.toObject();
        QCOMPARE(slice["result_start"].toInt(), at);
        at = slice["result_end"].toInt();
        QCOMPARE(slice["source_end"].toInt() - slice["source_start"].toInt(), at - slice["result_start"].toInt());
    }
    QCOMPARE(at, report["length"].toInt());
}

} // namespace

/// The contract other tools rely on.
class TestCli : public QObject {
    Q_OBJECT
    TempFolder folder_;

private slots:
    void initTestCase() {
        buildTake(folder_ / "take", 'B', 14, {"kick_in", "snare_top", "tom_rack", "overhead_left"});
    }

    void takesAreCompedByBars() {
        for (const char letter : {'A', 'B', 'C'})
            buildTake(folder_.path() / "takes" / std::string(1, letter), letter, 14,
                      letter == 'C' ? std::vector<std::string>{"kick_in", "snare_top"}
                                    : std::vector<std::string>{"kick_in", "snare_top", "overhead_left"});
        const auto takes = folder_ / "takes";
        const auto done = run({"edit", "--take", "A=" + text(takes / "A"), "--take", "B=" + text(takes / "B"),
                               "--take", "C=" + text(takes / "C"), "--comp", "A:1-2,B:3-4.3,C:4.3-5,A:6", "--tempo",
                               "104", "--out", text(folder_ / "comped"), "--report", text(folder_ / "comp.json")});
        QVERIFY2(done.code == 0, qPrintable(done.err));
        QVERIFY(done.err.contains("take C has no file for overhead_left"));
        const auto report = json(folder_ / "comp.json");
        checkSlices(report);
        // Borders by arithmetic: a quarter note at 104 BPM is 60 / 104 s; each seam lies in front of its border.
        const double quarter = 60.0 / 104 * 48000;
        const std::vector<std::pair<QString, double>> wanted{
            {"A", 0}, {"B", 8 * quarter}, {"C", 14 * quarter}, {"A", 20 * quarter}};
        std::vector<std::pair<QString, double>> found;
        for (const auto& each : report["slices"].toArray()) {
            const auto slice = each.toObject();
            if (found.empty() || found.back().first != slice["take"].toString())
                found.emplace_back(slice["take"].toString(), slice["result_start"].toDouble());
        }
        QCOMPARE(found.size(), wanted.size());
        for (std::size_t i = 0; i < wanted.size(); ++i) {
            QCOMPARE(found[i].first, wanted[i].first);
            QVERIFY2(std::abs(found[i].second - wanted[i].second) < 0.05 * 48000, qPrintable(QString::number(i)));
        }
        // Every hit says which take it is from, and lies in a slice of that take.
        QStringList letters;
        for (const auto& each : report["hits"].toArray()) {
            const auto hit = each.toObject();
            const int at = hit["landing"].toInt();
            for (const auto& other : report["slices"].toArray())
                if (const auto slice = other.toObject();
                    slice["result_start"].toInt() <= at && at < slice["result_end"].toInt())
                    QCOMPARE(hit["take"].toString(), slice["take"].toString());
            letters << hit["take"].toString();
        }
        letters.removeDuplicates();
        QCOMPARE(letters, QStringList({"A", "B", "C"}));
        // Where take C sounds, the mic it lacks is silent.
        const auto overhead = readAudio(folder_.path() / "comped" / "overhead_left.wav");
        const auto inC = static_cast<std::size_t>(16 * quarter);
        QVERIFY(
            std::all_of(overhead.begin() + inC, overhead.begin() + inC + 48000, [](float x) { return x == 0; }));
    }
    void compsThatCannotBe_data() {
        QTest::addColumn<QStringList>("arguments");
        QTest::addColumn<int>("code");
        QTest::addColumn<QString>("said");
        const QString take = "A=" + text(folder_ / "take");
        QTest::newRow("no input") << QStringList{} << 2 << "INPUT";
        QTest::newRow("no folder") << QStringList{"--take", "A=" + text(folder_ / "gone")} << 1 << "gone";
        QTest::newRow("no letter") << QStringList{"--take", "second"} << 2 << "LETTER=DIR";
        QTest::newRow("one letter twice") << QStringList{"--take", take, "--take", take} << 1 << "two takes A";
        QTest::newRow("unknown take") << QStringList{"--take", take, "--comp", "B:1-4"} << 1 << "no take B";
        QTest::newRow("bars backwards") << QStringList{"--take", take, "--comp", "A:4-1"} << 2 << "A:1-8";
        QTest::newRow("words") << QStringList{"--take", take, "--comp", "first:1-4"} << 2 << "A:1-8";
        QTest::newRow("beyond the end") << QStringList{"--take", take, "--comp", "A:1-4,A:900"} << 1 << "Bar 900";
    }
    void compsThatCannotBe() {
        QFETCH(QStringList, arguments);
        QFETCH(int, code);
        QFETCH(QString, said);
        const auto done = run(QStringList{"edit", "--out", text(folder_ / "never")} + arguments);
        QCOMPARE(done.code, code);
        QVERIFY2(done.err.contains(said), qPrintable(done.err));
        QVERIFY(!std::filesystem::exists(folder_ / "never"));
    }
    void mapAndTimingOptions() {
        // 104 BPM as a MIDI file says it: 576,923 microseconds (0x08CD9B) a quarter, 4/4, 96 ticks.
        const auto byte = [](int value) { return static_cast<char>(value); };
        std::string midi = "MThd";
        for (const int value : {0, 0, 0, 6, 0, 0, 0, 1, 0, 96})
            midi += byte(value);
        midi += "MTrk";
        for (const int value : {0, 0, 0, 11, 0, 0xFF, 0x51, 3, 0x08, 0xCD, 0x9B, 0, 0xFF, 0x2F, 0})
            midi += byte(value);
        writeBytes(folder_ / "song.mid", midi);
        const auto done = run({"edit",        text(folder_ / "take"),
                               "--out",       text(folder_ / "timed"),
                               "--tempo-map", text(folder_ / "song.mid"),
                               "--grid",      "1/8",
                               "--swing",     "60",
                               "--pocket",    "4",
                               "--pull",      "edge",
                               "--reach",     "90",
                               "--assign",    "nearest",
                               "--land",      "kick",
                               "--guide",     "kick_in,snare_top",
                               "--report",    text(folder_ / "timed.json")});
        QVERIFY2(done.code == 0, qPrintable(done.err));
        // By arithmetic: the second eighth of a quarter begins at 60 %, and a landed kick is 4 ms from its line at
        // most.
        const double quarter = 0.576923 * 48000;
        int landed = 0;
        const auto report = json(folder_ / "timed.json");
        QVERIFY(report["hits"].toArray().size() > 20);
        for (const auto& each : report["hits"].toArray()) {
            const auto hit = each.toObject();
            const bool lands = hit["state"] == "landed" || hit["state"] == "doubtful";
            QVERIFY2(!lands || hit["voice"] == "kick", qPrintable(hit["voice"].toString()));
            if (!lands)
                continue;
            const double beats = hit["bar"].toInt() * 4 - 4 + hit["beat"].toDouble() - 1;
            const double swung = std::floor(beats) + (beats > std::floor(beats) ? 0.6 : 0);
            QVERIFY(std::abs(hit["landing"].toInt() - swung * quarter) <= 4 * 48 + 1);
            ++landed;
        }
        QVERIFY2(landed > 8, qPrintable(QString::number(landed)));
        writeBytes(folder_ / "no.mid", "nothing");
        const auto refused = run({"edit", text(folder_ / "take"), "--out", text(folder_ / "never"), "--tempo-map",
                                  text(folder_ / "no.mid")});
        QCOMPARE(refused.code, 1);
        QVERIFY(refused.err.contains("no.mid"));
        for (const QStringList& wrong : {QStringList{"--swing", "80"},
                                         {"--pocket", "-1"},
                                         {"--assign", "guess"},
                                         {"--land", "gong"},
                                         {"--grid", "1/7"}})
            QCOMPARE(
                run(QStringList{"edit", text(folder_ / "take"), "--out", text(folder_ / "never")} + wrong).code, 2);
    }
    void temposChangeInsideBars() {
        // 104 BPM (576,923 microseconds a quarter), and from each bar's third beat 103.45 (580,000): by arithmetic.
        constexpr int first = 576923, second = 580000, perBar = 4 * 480;
        MidiFile midi{480, {{}}};
        for (int bar = 0; bar < 12; ++bar)
            for (const auto& [tick, micros] : {std::pair{0, first}, {2 * 480, second}})
                midi.tracks[0].push_back(
                    {bar * perBar + tick,
                     0xFF,
                     midi::tempo,
                     {static_cast<char>(micros >> 16), static_cast<char>(micros >> 8), static_cast<char>(micros)}});
        writeBytes(folder_ / "inside.mid", midiBytes(midi));
        const auto done = run({"hits", text(folder_ / "take"), "--guide", "kick_in,snare_top", "--tempo-map",
                               text(folder_ / "inside.mid"), "--report", text(folder_ / "inside.json")});
        QVERIFY2(done.code == 0, qPrintable(done.err));
        int landed = 0;
        for (const auto& each : json(folder_ / "inside.json")["hits"].toArray()) {
            const auto hit = each.toObject();
            if (hit["state"] != "landed")
                continue;
            const double beat = hit["beat"].toDouble() - 1;
            const double micros = (hit["bar"].toInt() - 1) * 2.0 * (first + second) + std::min(beat, 2.0) * first +
                                  std::max(beat - 2, 0.0) * second;
            QVERIFY(std::abs(hit["landing"].toInt() - micros * 48000 / 1e6) <= 0.51);
            ++landed;
        }
        QVERIFY2(landed > 20, qPrintable(QString::number(landed)));
    }
    void aFeelFromAFile() {
        std::string places;
        for (const char* at : {"0", "1", "2", "3"})
            places +=
                std::string(places.empty() ? "" : ", ") + "{\"at\": " + at + ", \"late\": 0.04, \"level_db\": 0}";
        writeBytes(folder_ / "late.lampo-feel",
                   "{\"schema\": \"lampo-feel-1\", \"name\": \"late\", \"quarters\": 4, "
                   "\"places\": [" +
                       places + "]}");
        const auto done = run({"hits", text(folder_ / "take"), "--tempo", "104", "--grid", "1/4", "--guide",
                               "kick_in", "--feel", text(folder_ / "late.lampo-feel"), "--feel-amount", "50",
                               "--report", text(folder_ / "felt.json")});
        QVERIFY2(done.code == 0, qPrintable(done.err));
        const double quarter = 60.0 / 104 * 48000; // half of 0.04 quarters late
        int landed = 0;
        for (const auto& each : json(folder_ / "felt.json")["hits"].toArray()) {
            const auto hit = each.toObject();
            if (hit["state"] != "landed" && hit["state"] != "doubtful")
                continue;
            const double beats = hit["bar"].toInt() * 4 - 4 + hit["beat"].toDouble() - 1;
            QVERIFY(std::abs(hit["landing"].toInt() - (beats + 0.02) * quarter) <= 2);
            ++landed;
        }
        QVERIFY(landed > 8);
        QCOMPARE(
            run({"hits", text(folder_ / "take"), "--report", text(folder_ / "felt.json"), "--feel-amount", "50"})
                .code,
            2);
        writeBytes(folder_ / "no.lampo-feel", "{}");
        const auto refused = run({"hits", text(folder_ / "take"), "--feel", text(folder_ / "no.lampo-feel"),
                                  "--report", text(folder_ / "felt.json")});
        QCOMPARE(refused.code, 1);
        QVERIFY(refused.err.contains("no.lampo-feel"));
    }
    void editWritesFilesAndReport() {
        const auto before = contents(folder_ / "take");
        const auto done = run({"edit",        text(folder_ / "take"),
                               "--out",       text(folder_ / "out"),
                               "--format",    "wav32f",
                               "--report",    text(folder_ / "r.json"),
                               "--tempo",     "104",
                               "--meter",     "4/4",
                               "--origin",    "0ms",
                               "--grid",      "1/16",
                               "--strength",  "100",
                               "--lead-in",   "10",
                               "--fade",      "6",
                               "--fill",      "borrow",
                               "--guide",     "kick_in,snare_top",
                               "--threshold", "snare_top=-22",
                               "--min-gap",   "40"});
        QVERIFY2(done.code == 0, qPrintable(done.err));
        for (const char* stem : {"kick_in", "snare_top", "tom_rack", "overhead_left"})
            QCOMPARE(readAudio(folder_.path() / "out" / (std::string(stem) + ".wav")).size(),
                     std::size_t{14 * 48000});
        QVERIFY(contents(folder_ / "take") == before);

        const auto report = json(folder_ / "r.json");
        QCOMPARE(report["schema"].toString(), QStringLiteral("lampo-report-1"));
        QCOMPARE(report["sample_rate"].toInt(), 48000);
        QCOMPARE(report["length"].toInt(), 14 * 48000);
        QCOMPARE(report["mics"].toArray().size(), 4);
        for (const char* key : {"file", "role", "guide", "candidates", "hits"})
            QVERIFY(report["mics"].toArray()[0].toObject().contains(QLatin1String(key)));
        QVERIFY(!report["mics"].toArray()[2].toObject()["guide"].toBool());
        const auto hits = report["hits"].toArray();
        QVERIFY(hits.size() > 20);
        for (const auto& each : hits) {
            const auto hit = each.toObject();
            for (const char* key : {"id", "source", "landing", "voice", "mics", "level_db", "bar", "beat", "state"})
                QVERIFY(hit.contains(QLatin1String(key)));
            // Bar and beat say where the landing is: arithmetic at 104 BPM.
            if (hit["state"] == "landed" || hit["state"] == "doubtful") {
                const double frames =
                    ((hit["bar"].toInt() - 1) * 4 + hit["beat"].toDouble() - 1) * 60.0 / 104 * 48000;
                QVERIFY(std::abs(hit["landing"].toInt() - frames) <= 0.5);
            }
        }
        checkSlices(report);
    }
    void times_data() {
        QTest::addColumn<QString>("time");
        QTest::newRow("seconds") << "0.1s";
        QTest::newRow("milliseconds") << "100ms";
        QTest::newRow("samples") << "4800smp";
    }
    void times() {
        QFETCH(QString, time);
        QCOMPARE(run({"hits", text(folder_ / "take"), "--report", text(folder_ / "t.json"), "--tempo", "104",
                      "--origin", time})
                     .code,
                 0);
        for (const auto& each : json(folder_ / "t.json")["hits"].toArray()) {
            const auto hit = each.toObject();
            if (hit["state"] == "landed") {
                const double frames =
                    4800 + ((hit["bar"].toInt() - 1) * 4 + hit["beat"].toDouble() - 1) * 60.0 / 104 * 48000;
                QVERIFY(std::abs(hit["landing"].toInt() - frames) <= 0.5);
            }
        }
    }
    void strokesOfEveryDrumAreReported() {
        const QStringList asked{"hits",     text(folder_ / "take"),  "--guide", "kick_in,snare_top",
                                "--report", text(folder_ / "s.json")};
        QCOMPARE(run(asked).code, 0);
        const auto report = json(folder_ / "s.json");
        std::map<QString, int> last, count;
        for (const auto& each : report["strokes"].toArray()) {
            const auto stroke = each.toObject();
            for (const char* key : {"take", "at", "drum", "level_db", "mic", "guide"})
                QVERIFY(stroke.contains(QLatin1String(key)));
            const QString mic = stroke["mic"].toString();
            QCOMPARE(stroke["guide"].toBool(), mic == "kick_in" || mic == "snare_top");
            QVERIFY(mic != "overhead_left"); // it has no drum of its own
            QVERIFY(stroke["at"].toInt() >= last[mic] && stroke["at"].toInt() < report["length"].toInt());
            QVERIFY(stroke["level_db"].toDouble() > -60 && stroke["level_db"].toDouble() < 20);
            last[mic] = stroke["at"].toInt();
            ++count[mic];
        }
        QVERIFY(count["kick_in"] > 8 && count["snare_top"] > 8);
        for (const auto& each : report["mics"].toArray())
            QVERIFY(!each.toObject()["idle"].toBool() || count[each.toObject()["file"].toString().chopped(4)] == 0);
    }
    void whichStrokeLandsIsAnOption() {
        buildTake(folder_ / "hats", 'B', 14, {"kick_in", "snare_top", "hihat"});
        const auto anchors = [this](const QStringList& more) {
            const auto done = run(QStringList{"hits", text(folder_ / "hats"), "--guide", "kick_in,snare_top,hihat",
                                              "--report", text(folder_ / "a.json")} +
                                  more);
            if (done.code != 0)
                qFatal("%s", qPrintable(done.err));
            QList<int> sources;
            for (const auto& each : json(folder_ / "a.json")["hits"].toArray())
                sources << each.toObject()["source"].toInt();
            return sources;
        };
        const auto usual = anchors({});
        QCOMPARE(anchors({"--one-hit", "25", "--anchor", "rank"}), usual);
        QVERIFY(anchors({"--anchor", "loudest"}) != usual);
        QVERIFY(anchors({"--anchor", "middle"}) != usual);
        QVERIFY(anchors({"--one-hit", "0"}).size() > usual.size()); // drums struck together, each by itself
    }
    void equalRunsAreEqual() {
        for (const char* out : {"one", "two"})
            QCOMPARE(run({"edit", text(folder_ / "take"), "--out", text(folder_ / out), "--format", "flac24",
                          "--tempo", "104"})
                         .code,
                     0);
        const auto one = contents(folder_ / "one"), two = contents(folder_ / "two");
        QCOMPARE(one.size(), std::size_t{4});
        for (std::size_t i = 0; i < one.size(); ++i)
            QVERIFY(one[i].second == two[i].second);
    }
    void optionsMayStandAnywhere() {
        const auto done = run({"hits", "--guide", "kick_in", "--threshold", "kick_in=-25", "--threshold",
                               "snare_top=-30", "--origin", "-20ms", text(folder_ / "take"), "--report",
                               text(folder_ / "a.json"), "--guide", "snare_top"});
        QVERIFY2(done.code == 0, qPrintable(done.err));
        int guides = 0;
        for (const auto& mic : json(folder_ / "a.json")["mics"].toArray())
            guides += mic.toObject()["guide"].toBool();
        QCOMPARE(guides, 2);
    }
    void infoNamesTheMics() {
        const auto info = run({"info", text(folder_ / "take")});
        QCOMPARE(info.code, 0);
        QVERIFY(info.out.contains("snare_top  snare  guide") && info.out.contains("4 mics"));
    }
    void wrongUsage_data() {
        QTest::addColumn<QStringList>("arguments");
        QTest::newRow("nothing") << QStringList{};
        QTest::newRow("unknown command") << QStringList{"sing"};
        QTest::newRow("no input") << QStringList{"info"};
        QTest::newRow("edit without out") << QStringList{"edit", "x"};
        QTest::newRow("hits without report") << QStringList{"hits", "x"};
        QTest::newRow("format") << QStringList{"edit", "x", "--out", "y", "--format", "mp3"};
        QTest::newRow("strength") << QStringList{"edit", "x", "--out", "y", "--strength", "101"};
        QTest::newRow("grid") << QStringList{"edit", "x", "--out", "y", "--grid", "1/5"};
        QTest::newRow("meter") << QStringList{"edit", "x", "--out", "y", "--meter", "4/5"};
        QTest::newRow("origin") << QStringList{"edit", "x", "--out", "y", "--origin", "12"};
        QTest::newRow("threshold") << QStringList{"edit", "x", "--out", "y", "--threshold", "snare"};
        QTest::newRow("fill") << QStringList{"edit", "x", "--out", "y", "--fill", "glue"};
        QTest::newRow("anchor") << QStringList{"hits", "x", "--report", "y", "--anchor", "first"};
        QTest::newRow("one hit") << QStringList{"hits", "x", "--report", "y", "--one-hit", "101"};
        QTest::newRow("unknown option") << QStringList{"edit", "x", "--out", "y", "--loud"};
    }
    void wrongUsage() {
        QFETCH(QStringList, arguments);
        const auto wrong = run(arguments);
        QCOMPARE(wrong.code, 2);
        QVERIFY(!wrong.err.isEmpty());
    }
    void wrongInput_data() {
        QTest::addColumn<QString>("what");
        for (const char* what : {"missing folder", "no audio", "truncated", "empty file", "mixed rates",
                                 "different lengths", "stereo", "not a number", "unwritable output", "full disk",
                                 "damaged project", "out is the take", "unknown guide", "report nowhere"})
            QTest::newRow(what) << what;
    }
    void wrongInput() {
        QFETCH(QString, what);
        const TempFolder folder;
        const auto take = folder / "take";
        std::filesystem::copy(folder_ / "take", take);
        QString input = text(take), out = text(folder / "out"), culprit = "lantern.wav";
        QStringList more;
        const auto lantern = take / "lantern.wav";
        const std::vector<float> samples(14 * 48000, 0.01F);
        if (what == "missing folder")
            input = text(folder / "nowhere"), culprit = "nowhere";
        else if (what == "no audio")
            std::filesystem::create_directory(folder / "bare"), input = text(folder / "bare"), culprit = "bare";
        else if (what == "truncated") {
            writeAudio(lantern, samples);
            writeBytes(lantern, readBytes(lantern).substr(0, 5000));
        } else if (what == "empty file")
            writeBytes(lantern, "");
        else if (what == "mixed rates")
            writeAudio(lantern, samples, SampleFormat::wav24, {44100});
        else if (what == "different lengths")
            writeAudio(lantern, std::vector<float>(1000, 0.1F));
        else if (what == "stereo") {
            SF_INFO info{0, 48000, 2, SF_FORMAT_WAV | SF_FORMAT_PCM_24, 0, 0};
            SNDFILE* file = sf_open(lantern.c_str(), SFM_WRITE, &info);
            sf_writef_float(file, samples.data(), 1000);
            sf_close(file);
        } else if (what == "not a number") {
            auto bad = samples;
            bad[1000] = std::numeric_limits<float>::infinity();
            writeAudio(lantern, bad, SampleFormat::wav32f);
        } else if (what == "unwritable output")
            writeBytes(folder / "out", "a file, not a folder"), culprit = "out";
        else if (what == "full disk")
            culprit = ".wav";
        else if (what == "damaged project")
            writeBytes(folder / "pier.lampo", "{\"schema\": 7"), input = text(folder / "pier.lampo"),
                                                                 culprit = "pier.lampo";
        else if (what == "out is the take")
            out = input, culprit = "take";
        else if (what == "unknown guide")
            more = QStringList{"--guide", "cowbell"}, culprit = "cowbell";
        else if (what == "report nowhere")
            more = QStringList{"--report", text(folder.path() / "no" / "r.json")}, culprit = "r.json";

        const auto before = contents(take);
        const auto failed =
            run(QStringList{"edit", input, "--out", out, "--tempo", "104"} + more, what == "full disk");
        QCOMPARE(failed.code, 1);
        QCOMPARE(failed.err.trimmed().count('\n'), 0);
        QVERIFY2(failed.err.contains(culprit), qPrintable(failed.err));
        QVERIFY(contents(take) == before);
        if (what != "report nowhere" && std::filesystem::is_directory(folder / "out"))
            QVERIFY(contents(folder / "out").empty());
    }
    void whatDoesNotFitIsMendedWhenAsked() {
        const TempFolder folder;
        std::filesystem::copy(folder_ / "take", folder / "take");
        writeAudio(folder.path() / "take" / "lantern.wav", std::vector<float>(5 * 44100, 0.01F),
                   SampleFormat::wav24, {44100});
        writeBytes(folder.path() / "take" / "broken.wav", "");
        const auto before = contents(folder / "take");
        const auto done =
            run({"edit", text(folder / "take"), "--mend", "--tempo", "104", "--out", text(folder / "out")});
        QCOMPARE(done.code, 0);
        QVERIFY2(done.err.contains("lantern.wav") && done.err.contains("44100"), qPrintable(done.err));
        QVERIFY(done.err.contains("broken.wav"));
        QVERIFY(contents(folder / "take") == before);
        QCOMPARE(readAudio(folder.path() / "out" / "lantern.wav").size(),
                 readAudio(folder.path() / "out" / "kick_in.wav").size()); // converted, and padded
    }
    void theDemoIsComplete() {
        const TempFolder folder;
        QCOMPARE(run({"demo", text(folder / "demo")}).code, 0);
        for (const char* take : {"A", "B", "C"}) {
            const auto truth = json(folder.path() / "demo" / take / "truth.json");
            QVERIFY(truth["strokes"].toArray().size() > 250);
            QCOMPARE(run({"info", text(folder.path() / "demo" / take)}).code, 0);
        }
        QVERIFY(std::filesystem::exists(folder.path() / "demo" / "companion" / "bass.wav"));
        const auto done = run(
            {"hits", text(folder.path() / "demo" / "lighthouse_relay.lampo"), "--report", text(folder / "r.json")});
        QVERIFY2(done.code == 0, qPrintable(done.err));
        // The project's map and sections apply: every stroke of take A lands where it was meant, the rushed passage
        // too.
        const auto strokes = json(folder.path() / "demo" / "A" / "truth.json")["strokes"].toArray();
        int wrong = 0, all = 0;
        for (const auto& each : json(folder / "r.json")["hits"].toArray()) {
            const auto hit = each.toObject();
            for (const auto& other : strokes) {
                const auto stroke = other.toObject();
                if (std::abs(stroke["sample"].toInt() - hit["source"].toInt()) < 240 &&
                    stroke["drum"].toString().startsWith(hit["voice"].toString())) {
                    ++all;
                    wrong += stroke["bar"].toInt() != hit["bar"].toInt() ||
                             std::abs(stroke["beat"].toDouble() - hit["beat"].toDouble()) > 1e-3;
                    break;
                }
            }
        }
        QVERIFY(all > 140);
        QVERIFY2(wrong == 0, qPrintable(QString::number(wrong)));
    }
};

QTEST_GUILESS_MAIN(TestCli)
#include "tst_cli.moc"
