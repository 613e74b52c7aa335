#include "cli/cli_rig.h"
#include "support/built_kit.h"

#include <sndfile.h>
#include <limits>

using namespace lampo;
using namespace lampo::test;

/// The contract other tools rely on.
class TestCli : public QObject {
    Q_OBJECT
    TempFolder folder_;

private slots:
    void initTestCase() {
        buildTake(folder_ / "take", 'B', 14, {"kick_in", "snare_top", "tom_rack", "overhead_left"});
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
