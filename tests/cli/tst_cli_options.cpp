#include "cli/cli_rig.h"
#include "midi/midi_file.h"
#include "support/built_kit.h"

using namespace lampo;
using namespace lampo::test;

/// Takes, comps, maps, timing and feels by options: what the report says of them.
class TestCliOptions : public QObject {
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
};

QTEST_GUILESS_MAIN(TestCliOptions)
#include "tst_cli_options.moc"
