// What `edit` and `batch` write beside plain files, read back by other programs: flac, sox, sndfile-info, midicsv
// and xxh128sum, all from Debian.
#include "cli/cli_rig.h"
#include "import/folder_import.h"
#include "project/kit_layout.h"
#include "support/built_kit.h"

#include <QRegularExpression>

#include <cmath>

using namespace lampo;
using namespace lampo::test;

namespace fs = std::filesystem;

class TestCliDelivery : public QObject {
    Q_OBJECT
    TempFolder folder_;

    fs::path song() const { return folder_.path() / "songs" / "first"; }
    Run edit(const QStringList& more, const fs::path& out) const {
        return run(QStringList{"edit", text(song()), "--tempo", "104", "--out", text(out)} + more);
    }
    static Run other(const char* program, const QStringList& arguments) { return runProgram(program, arguments); }
    static std::vector<fs::path> filesIn(const fs::path& folder) {
        std::vector<fs::path> files;
        for (const auto& entry : fs::directory_iterator(folder))
            files.push_back(entry.path().filename());
        std::sort(files.begin(), files.end());
        return files;
    }

private slots:
    void initTestCase() {
        const std::vector<std::string> stems{"kick_in", "snare_top", "tom_rack", "overhead_left", "overhead_right"};
        buildTake(song(), 'A', 12, stems);
        buildTake(folder_.path() / "songs" / "second", 'B', 8, stems);
        QCOMPARE(edit({"--format", "wav24"}, folder_ / "plain").code, 0);
    }

    void everyFormatIsReadByOthers_data() {
        QTest::addColumn<QString>("format");
        QTest::addColumn<int>("bits");
        for (const auto& [format, bits] : {std::pair{"wav16", 16},
                                           {"wav24", 24},
                                           {"wav32f", 32},
                                           {"bwf24", 24},
                                           {"bwf32f", 32},
                                           {"aiff16", 16},
                                           {"aiff24", 24},
                                           {"aiff32f", 32},
                                           {"flac16", 16},
                                           {"flac24", 24}})
            QTest::newRow(format) << format << bits;
    }
    void everyFormatIsReadByOthers() {
        QFETCH(QString, format);
        QFETCH(int, bits);
        const TempFolder out;
        const Run done = edit({"--format", format, "--markers"}, out.path() / "p");
        QVERIFY2(done.code == 0, qPrintable(done.err));
        const auto plain = readAudio(folder_.path() / "plain" / "kick_in.wav");
        for (const fs::path& name : filesIn(out.path() / "p")) {
            const fs::path file = out.path() / "p" / name;
            const Run info = other("sndfile-info", {text(file)});
            QVERIFY2(info.code == 0 && info.out.contains("48000"), qPrintable(info.out));
            if (format.startsWith("flac"))
                QCOMPARE(other("flac", {"-t", "-s", text(file)}).code, 0);
            const Run soxi = other("soxi", {"-s", text(file)});
            QCOMPARE(soxi.out.trimmed().toLongLong(), static_cast<qlonglong>(plain.size()));
            const Run depth = other("soxi", {"-b", text(file)});
            QCOMPARE(depth.out.trimmed().toInt(), bits);
        }
        const fs::path kick =
            out.path() / "p" /
            ("kick_in." +
             format.left(format.indexOf(QRegularExpression("\\d"))).replace("bwf", "wav").toStdString());
        const auto back = readAudio(kick);
        QCOMPARE(back.size(), plain.size());
        const float step = bits == 16 ? 1.6F / 32768 : 1.1F / 8388608;
        for (std::size_t i = 0; i < back.size(); ++i)
            if (std::abs(back[i] - plain[i]) > step)
                QFAIL(qPrintable(QStringLiteral("%1: %2, not %3").arg(i).arg(back[i]).arg(plain[i])));
    }

    void barsAreThoseOfTheWhole() {
        const TempFolder out;
        QCOMPARE(edit({"--bars", "2-3", "--mics", "snare_top,kick_in"}, out.path() / "p").code, 0);
        QCOMPARE(filesIn(out.path() / "p"), (std::vector<fs::path>{"kick_in.wav", "snare_top.wav"}));
        const auto whole = readAudio(folder_.path() / "plain" / "snare_top.wav");
        const auto part = readAudio(out.path() / "p" / "snare_top.wav");
        const auto bar = [](int number) {
            return static_cast<std::size_t>(std::llround((number - 1) * 4 * 60.0 / 104 * 48000));
        };
        QCOMPARE(part.size(), bar(4) - bar(2));
        QVERIFY(std::equal(part.begin(), part.end(), whole.begin() + static_cast<std::ptrdiff_t>(bar(2))));
        const Run outside = edit({"--bars", "90-99"}, out.path() / "q");
        QVERIFY(outside.code == 1 && outside.err.contains("Bars 90-99 lie outside the song"));
        QVERIFY(!fs::exists(out.path() / "q"));
        for (const char* wrong : {"9-", "9-3", "x", "-", "9-16-20"})
            QCOMPARE(edit({QStringLiteral("--bars=%1").arg(wrong)}, out.path() / "q").code, 2);
    }

    void ratesAndBits() {
        const TempFolder out;
        QCOMPARE(
            edit({"--rate", "44100", "--bits", "16", "--dither", "tpdf", "--mics", "kick_in"}, out.path() / "p")
                .code,
            0);
        const Run rate = other("soxi", {"-r", text(out.path() / "p" / "kick_in.wav")});
        QCOMPARE(rate.out.trimmed(), QString("44100"));
        const auto whole = readAudio(folder_.path() / "plain" / "kick_in.wav");
        const auto low = readAudio(out.path() / "p" / "kick_in.wav");
        QCOMPARE(static_cast<double>(low.size()), std::round(static_cast<double>(whole.size()) * 44.1 / 48));
        // sox's own resampler, of another kind, comes to the same sound.
        QCOMPARE(other("sox", {text(folder_.path() / "plain" / "kick_in.wav"), "-b", "32", "-e", "float",
                               text(out / "sox.wav"), "rate", "-v", "44100"})
                     .code,
                 0);
        const auto theirs = readAudio(out / "sox.wav");
        double rest = 0, power = 0;
        for (std::size_t i = 1000; i + 1000 < low.size() && i + 1000 < theirs.size(); ++i) {
            rest += std::pow(double{low[i]} - theirs[i], 2);
            power += std::pow(double{low[i]}, 2);
        }
        qInfo("%.1f dB below", 10 * std::log10(power / rest));
        QVERIFY(10 * std::log10(power / rest) > 55); // 16 bits of a kick's level
        QCOMPARE(edit({"--format", "flac", "--bits", "16", "--mics", "kick_in"}, out.path() / "c").code, 0);
        QCOMPARE(other("soxi", {"-b", text(out.path() / "c" / "kick_in.flac")}).out.trimmed(), QString("16"));
        QCOMPARE(edit({"--bits", "32", "--mics", "kick_in"}, out.path() / "f").code, 0);
        QVERIFY(other("soxi", {"-e", text(out.path() / "f" / "kick_in.wav")}).out.contains("Floating Point"));
        const Run odd = edit({"--bits", "20"}, out.path() / "q");
        QVERIFY(odd.code == 2 && odd.err.contains("bits are 16, 24 or 32f"));
        const Run none = edit({"--format", "flac24", "--bits", "32f"}, out.path() / "q");
        QVERIFY(none.code == 1 && none.err.contains("FLAC holds no floating point"));
    }

    void oneFileAndOthersBeside() {
        const TempFolder out;
        QCOMPARE(edit({"--one-file", "--click", "--mix", text(out / "mix.flac"), "--names", "{song}-{mic}"},
                      out.path() / "p")
                     .code,
                 0);
        QCOMPARE(filesIn(out.path() / "p"), (std::vector<fs::path>{"first-click.wav", "first-kit.wav"}));
        QCOMPARE(other("soxi", {"-c", text(out.path() / "p" / "first-kit.wav")}).out.trimmed(), QString("5"));
        QCOMPARE(other("soxi", {"-c", text(out / "mix.flac")}).out.trimmed(), QString("2"));
        QCOMPARE(other("flac", {"-t", "-s", text(out / "mix.flac")}).code, 0);
        const Run level = other("sox", {text(out / "mix.flac"), "-n", "stat"});
        const auto loud =
            QRegularExpression("Maximum amplitude:\\s+([0-9.]+)").match(level.err).captured(1).toDouble();
        QVERIFY2(loud > 0.05, qPrintable(level.err));
        // A channel is the mic that would have been alone.
        QCOMPARE(other("sox", {text(out.path() / "p" / "first-kit.wav"), text(out / "one.wav"), "remix", "1"}).code,
                 0);
        const auto one = readAudio(out / "one.wav");
        bool same = false;
        for (const fs::path& file : filesIn(folder_ / "plain"))
            same = same || readAudio(folder_.path() / "plain" / file) == one;
        QVERIFY(same);
    }

    void namesFollowThePattern_data() {
        QTest::addColumn<QString>("pattern");
        QTest::addColumn<QString>("name");
        QTest::addColumn<QString>("error");
        const auto row = [](const char* pattern, const char* name, const char* error = "") {
            QTest::newRow(pattern) << pattern << name << error;
        };
        row("{mic}", "kick_in.wav");
        row("{song} {mic} {take}", "first kick_in A.wav");
        row("{song}/{mic}", "first-kick_in.wav"); // no way out of the folder
        row("../{mic}", "..-kick_in.wav");
        row("{song}", "", "another file of this print");
        row("{singer}", "", "is no pattern for names: in braces stand song, mic, take, version, date");
        row("{mic", "", "is no pattern for names");
        row("mic}", "", "is no pattern for names");
        row(" ", "", "leaves nothing of a name");
    }
    void namesFollowThePattern() {
        QFETCH(QString, pattern);
        QFETCH(QString, name);
        QFETCH(QString, error);
        const TempFolder out;
        const Run done = edit({"--names", pattern}, out.path() / "p");
        QCOMPARE(done.code, error.isEmpty() ? 0 : 1);
        QVERIFY2(done.err.contains(error), qPrintable(done.err));
        QCOMPARE(fs::exists(out.path() / "p"), error.isEmpty());
        if (error.isEmpty())
            QVERIFY(fs::exists(out.path() / "p" / name.toStdString()));
    }

    void earlierPrintsAreReplacedOrNumbered() {
        const TempFolder out;
        const fs::path p = out.path() / "p";
        QCOMPARE(edit({"--mics", "kick_in", "--about"}, p).code, 0);
        const std::string first = readBytes(p / "kick_in.wav");
        QCOMPARE(edit({"--mics", "kick_in", "--about", "--existing", "number", "--grid", "1/8"}, p).code, 0);
        QCOMPARE(filesIn(p),
                 (std::vector<fs::path>{"first print 2.txt", "first print.txt", "kick_in 2.wav", "kick_in.wav"}));
        QCOMPARE(readBytes(p / "kick_in.wav"), first);
        QCOMPARE(edit({"--mics", "kick_in", "--about", "--grid", "1/8"}, p).code, 0);
        QCOMPARE(readBytes(p / "kick_in.wav"), readBytes(p / "kick_in 2.wav"));
    }

    void theTextTellsOfFilesByTheirSums() {
        const TempFolder out;
        const fs::path p = out.path() / "p";
        QCOMPARE(edit({"--about", "--report", text(out / "r.json"), "--mix", text(out / "mix.wav")}, p).code, 0);
        const QString about = QString::fromStdString(readBytes(p / "first print.txt"));
        for (const char* said :
             {"first\n", "grid 1/16", "wav, 24 bits, 48000 Hz", "hits of take A", "within 5 ms after"})
            QVERIFY2(about.contains(said), said);
        QProcess sums;
        sums.setWorkingDirectory(text(p));
        sums.start("sh", {"-c", "grep -E '^[0-9a-f]{32}  ' 'first print.txt' | xxh128sum --check --quiet"});
        QVERIFY(sums.waitForFinished() && sums.exitCode() == 0);
        QCOMPARE(about.count(QRegularExpression("^[0-9a-f]{32}  ", QRegularExpression::MultilineOption)), 6);
        QVERIFY(about.contains("  ../mix.wav\n")); // from where the text lies
        std::string bytes = readBytes(p / "kick_in.wav");
        bytes[bytes.size() / 2] ^= 1;
        QFile(text(p / "kick_in.wav")).remove();
        writeBytes(p / "kick_in.wav", bytes);
        sums.start("sh", {"-c", "grep -E '^[0-9a-f]{32}  ' 'first print.txt' | xxh128sum --check --quiet"});
        QVERIFY(sums.waitForFinished() && sums.exitCode() != 0);
    }

    void hitsAsNotes_data() {
        QTest::addColumn<bool>("landed");
        QTest::newRow("landed") << true;
        QTest::newRow("played") << false;
    }
    /// By midicsv: every hit has a note of its drum's key within a tick of where it lands, or was played.
    void hitsAsNotes() {
        QFETCH(bool, landed);
        const TempFolder out;
        QCOMPARE(edit({"--midi", text(out / "h.mid"), "--midi-as", landed ? "landed" : "played", "--report",
                       text(out / "r.json")},
                      out.path() / "p")
                     .code,
                 0);
        const Run csv = other("midicsv", {text(out / "h.mid")});
        QCOMPARE(csv.code, 0);
        QVERIFY(csv.out.contains("Tempo, 576923") && csv.out.contains("Time_signature, 4, 2"));
        QMap<int, QList<double>> notes;
        int ons = 0, offs = 0;
        for (const QString& line : csv.out.split('\n')) {
            const QStringList cells = line.split(", ");
            if (cells.size() > 5 && cells[2] == "Note_on_c") {
                QCOMPARE(cells[3], QString("9"));
                QVERIFY(cells[5].toInt() >= 1 && cells[5].toInt() <= 127);
                notes[cells[4].toInt()] << cells[1].toDouble() / 960 * 0.576923;
                ++ons;
            }
            offs += cells.size() > 5 && cells[2] == "Note_off_c";
        }
        QCOMPARE(offs, ons);
        const auto hits = json(out / "r.json")["hits"].toArray();
        QVERIFY(hits.size() > 20 && ons >= hits.size());
        const QMap<QString, int> keys{{"kick", 36}, {"snare", 38}, {"tom", 50}};
        for (const auto& each : hits) {
            const auto hit = each.toObject();
            const double at = hit[landed ? "landing" : "source"].toDouble() / 48000;
            double nearest = 1;
            for (const double note : notes[keys[hit["voice"].toString()]])
                nearest = std::min(nearest, std::abs(note - at));
            QVERIFY2(nearest < 0.0004, qPrintable(QStringLiteral("%1: %2").arg(at).arg(nearest)));
        }
    }

    void tablesAreTheReport() {
        const TempFolder out;
        QCOMPARE(edit({"--csv", text(out.path() / "t" / "csv"), "--report", text(out / "r.json")}, out.path() / "p")
                     .code,
                 0);
        const auto report = json(out / "r.json");
        QCOMPARE(filesIn(out.path() / "t" / "csv"),
                 (std::vector<fs::path>{"figures.csv", "hits.csv", "seams.csv", "slices.csv"}));
        for (const char* list : {"hits", "slices", "seams"}) {
            const auto rows = table(out.path() / "t" / "csv" / (std::string(list) + ".csv"));
            const auto items = report[list].toArray();
            QCOMPARE(rows.size(), items.size() + 1);
            for (int row = 0; row < items.size(); ++row)
                for (int column = 0; column < rows[0].size(); ++column) {
                    const auto value = items[row].toObject()[rows[0][column]];
                    if (value.isDouble())
                        QCOMPARE(rows[row + 1][column].toDouble(), value.toDouble());
                    if (value.isString())
                        QCOMPARE(rows[row + 1][column], value.toString());
                }
        }
        const auto figures = table(out.path() / "t" / "csv" / "figures.csv");
        QCOMPARE(figures.size(), report["proof"].toObject()["drums"].toArray().size() + 1);
    }

    void manySongs() {
        const TempFolder out;
        fs::create_directories(folder_.path() / "songs" / "third");
        writeBytes(folder_.path() / "songs" / "third" / "kick_in.wav", "no sound");
        const QStringList settings{"--tempo", "104", "--report", "report.json", "--midi", "hits.mid"};
        Run done = run(QStringList{"batch", text(folder_ / "songs"), "--out", text(out / "all")} + settings);
        QCOMPARE(done.code, 1);
        QVERIFY2(done.out.contains("2 of 3 songs done") && done.out.contains("third: failed: "),
                 qPrintable(done.out));
        for (const char* song : {"first", "second"})
            for (const char* file : {"kick_in.wav", "report.json", "hits.mid"})
                QVERIFY2(fs::exists(out.path() / "all" / song / file), file);
        QVERIFY(!fs::exists(out.path() / "all" / "third"));
        QCOMPARE(readBytes(out.path() / "all" / "first" / "kick_in.wav"),
                 readBytes(folder_.path() / "plain" / "kick_in.wav"));
        QVERIFY(readBytes(out.path() / "all" / "summary.txt").find("2 of 3 songs done") != std::string::npos);
        QCOMPARE(json(out.path() / "all" / "summary.json")["failed"].toInt(), 1);

        fs::remove_all(folder_.path() / "songs" / "third");
        writeBytes(folder_ / "list.txt", "# two songs\nsongs/first\n\nsongs/second\r\n");
        done =
            run(QStringList{"batch", text(folder_ / "list.txt"), "--out", text(out / "again"), "--tempo", "104"});
        QVERIFY2(done.code == 0 && done.out.contains("2 of 2 songs done"), qPrintable(done.err));
        writeBytes(folder_ / "list.txt", "songs/first\nsongs/nothing\nsongs/first\n");
        done =
            run(QStringList{"batch", text(folder_ / "list.txt"), "--out", text(out / "twice"), "--tempo", "104"});
        QCOMPARE(done.code, 1);
        QVERIFY2(done.out.contains("2 of 3 songs done"), qPrintable(done.out + done.err));
        QVERIFY(fs::exists(out.path() / "twice" / "first 2" / "kick_in.wav"));
        writeBytes(folder_ / "list.txt", "\x1b[2J\xff\n");
        done = run({"batch", text(folder_ / "list.txt"), "--out", text(out / "odd")});
        QVERIFY2(done.code == 1 && done.out.contains("\\x1b") && !done.out.contains("\x1b"), qPrintable(done.out));
        done = run({"batch", text(folder_ / "nowhere"), "--out", text(out / "x")});
        QVERIFY(done.code == 1 && done.err.contains("There is no \"nowhere\""));
    }

    /// A kit in which the rack tom is no guide and the snare leads: both songs follow it.
    void oneKitForAllSongs() {
        const TempFolder out;
        Session session = *importFolder(song());
        for (Mic& mic : session.mics)
            mic.guide = mic.role == Role::snare;
        std::stable_partition(session.mics.begin(), session.mics.end(), [](const Mic& mic) { return mic.guide; });
        QVERIFY(saveKitLayout(session, out / "snare.lampo-kit").has_value());
        Run done = run({"batch", text(folder_ / "songs"), "--out", text(out / "all"), "--kit",
                        text(out / "snare.lampo-kit"), "--tempo", "104", "--report", "r.json"});
        QVERIFY2(done.code == 0, qPrintable(done.err + done.out));
        for (const char* each : {"first", "second"}) {
            const auto report = json(out.path() / "all" / each / "r.json");
            QCOMPARE(report["mics"].toArray().first().toObject()["role"].toString(), QString("snare"));
            QVERIFY(report["hits"].toArray().size() > 5);
            for (const auto& hit : report["hits"].toArray())
                QCOMPARE(hit.toObject()["voice"].toString(), QString("snare"));
        }
        writeBytes(out / "wrong.lampo-kit", "{}");
        done = run({"batch", text(song()), "--out", text(out / "x"), "--kit", text(out / "wrong.lampo-kit")});
        QVERIFY(done.code == 1 && done.out.contains("wrong.lampo-kit"));
    }

    void aProjectIsGathered() {
        const TempFolder out;
        const Run done = run({"gather", text(song()), "--out", text(out / "sent")});
        QVERIFY2(done.code == 0, qPrintable(done.err));
        QCOMPARE(run({"info", text(out.path() / "sent" / "first.lampo")}).code, 0);
        QVERIFY(run({"gather", text(song()), "--out", text(out / "sent")}).err.contains("holds something already"));
    }
};

QTEST_GUILESS_MAIN(TestCliDelivery)
#include "tst_cli_delivery.moc"
