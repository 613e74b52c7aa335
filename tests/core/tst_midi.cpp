#include "map/musical_map.h"
#include "midi/tempo_map.h"
#include "support/temp_folder.h"

#include <QProcess>
#include <QtTest>

#include <cmath>
#include <random>

using namespace lampo;
using namespace lampo::test;

namespace {

std::string bytes(std::initializer_list<int> values) {
    std::string text;
    for (const int value : values)
        text += static_cast<char>(value);
    return text;
}

MapData songMap() {
    MapData map;
    map.meters = {{1, {4, 4}}, {5, {7, 8}}, {7, {2, 4}}, {8, {3, 4}}};
    map.tempos = {{1, {104}}, {3, {120}}, {6, {97.3}, false, 2.5}};
    return map;
}

} // namespace

class TestMidi : public QObject {
    Q_OBJECT
private slots:
    void bytesAsTheStandardWantsThem() {
        // Standard MIDI Files 1.0: header, FF 58 04 nn dd cc bb, FF 51 03 tttttt (120 BPM is 500,000 = 07 A1 20),
        // and the end FF 2F 00; lengths most significant byte first.
        MapData map;
        const MidiFile file = tempoMapFile(map, {48000}, 1);
        QCOMPARE(midiBytes(file), "MThd" + bytes({0, 0, 0, 6, 0, 0, 0, 1, 0x03, 0xC0}) + "MTrk" +
                                      bytes({0, 0, 0, 19}) + bytes({0, 0xFF, 0x58, 4, 4, 2, 24, 8}) +
                                      bytes({0, 0xFF, 0x51, 3, 0x07, 0xA1, 0x20}) + bytes({0, 0xFF, 0x2F, 0}));
    }
    void quantities_data() {
        QTest::addColumn<int>("tick");
        QTest::addColumn<QByteArray>("bytes");
        // The examples of the standard.
        QTest::newRow("0") << 0 << QByteArray::fromHex("00");
        QTest::newRow("0x7F") << 0x7F << QByteArray::fromHex("7f");
        QTest::newRow("0x80") << 0x80 << QByteArray::fromHex("8100");
        QTest::newRow("0x2000") << 0x2000 << QByteArray::fromHex("c000");
        QTest::newRow("0x3FFF") << 0x3FFF << QByteArray::fromHex("ff7f");
        QTest::newRow("0x100000") << 0x100000 << QByteArray::fromHex("c08000");
        QTest::newRow("0x0FFFFFFF") << 0x0FFFFFFF << QByteArray::fromHex("ffffff7f");
    }
    void quantities() {
        QFETCH(int, tick);
        QFETCH(QByteArray, bytes);
        const MidiFile file{480, {{{tick, 0x90, 0, std::string{36, 100}}}}};
        const std::string text = midiBytes(file);
        QCOMPARE(text.substr(22, static_cast<std::size_t>(bytes.size())), bytes.toStdString());
        QVERIFY(*midiFromBytes(text, "x") == file);
    }
    void runningStatusAndOtherChunks() {
        const std::string track =
            bytes({0, 0x99, 36, 100, 10, 38, 90, 10, 0xC9, 1, 0, 2, 0, 0xF0, 2, 1, 0xF7, 0, 0xFF, 0x2F, 0});
        const std::string text = "MThd" + bytes({0, 0, 0, 6, 0, 1, 0, 1, 0, 96}) + "Junk" +
                                 bytes({0, 0, 0, 3, 1, 2, 3}) + "MTrk" +
                                 bytes({0, 0, 0, static_cast<int>(track.size())}) + track;
        const auto file = midiFromBytes(text, "x");
        QVERIFY2(file.has_value(), file ? "" : file.error().sentence.c_str());
        QCOMPARE(file->tracks[0].size(), std::size_t{5});
        QCOMPARE(file->tracks[0][1].tick, std::int64_t{10});
        QCOMPARE(int{file->tracks[0][1].status}, 0x99);
        QCOMPARE(int{file->tracks[0][3].status}, 0xC9);
    }
    void mapsComeBack() {
        const MapData map = songMap();
        const auto back = tempoMapOf(*midiFromBytes(midiBytes(tempoMapFile(map, {48000}, 12)), "x"), {48000}, "x");
        QVERIFY2(back.has_value(), back ? "" : back.error().sentence.c_str());
        QVERIFY(back->map.meters == map.meters);
        QCOMPARE(back->map.tempos.size(), map.tempos.size());
        QVERIFY(back->map.tempos[2].beat == 2.5);
        // Tempos are whole microseconds in the file: bar lines come back to the frame all the same.
        const MusicalMap before(map, {48000}), after(back->map, {48000});
        for (int bar = 1; bar < 13; ++bar)
            QVERIFY(std::abs((before.barStart(bar) - after.barStart(bar)).frames) <= 1);
    }
    void rampsAndLeadsKeepTheirTimes_data() {
        QTest::addColumn<int>("origin");
        QTest::newRow("bar 1 at the begin") << 0;
        QTest::newRow("bar 1 later") << 33333;
        QTest::newRow("bar 1 much later") << 3333333;
        QTest::newRow("bar 1 before the begin") << -12345;
        QTest::newRow("bar 3 is the first whole one") << -200000;
    }
    void rampsAndLeadsKeepTheirTimes() {
        // Written and read, bars have their numbers and all sixteenths their places, ramps included.
        QFETCH(int, origin);
        MapData map = songMap();
        map.origin = SongFrame{origin};
        map.tempos = {{1, {90}, true}, {6, {140}, false, 3}, {9, {100}}};
        const MidiFile file = tempoMapFile(map, {48000}, 12);
        const auto back = tempoMapOf(file, {48000}, "x");
        QVERIFY2(back.has_value(), back ? "" : back.error().sentence.c_str());
        const MusicalMap before(map, {48000}), after(back->map, {48000});
        for (int bar = origin < -150000 ? 3 : origin < 0 ? 2 : 1; bar < 13; ++bar) {
            QVERIFY(before.meterOf(bar) == after.meterOf(bar));
            for (double wholes = 0; wholes < before.meterOf(bar).barInWholes(); wholes += 1.0 / 16)
                QVERIFY2(std::abs((before.at(bar, wholes) - after.at(bar, wholes)).frames) <= 1,
                         qPrintable(QString::number(bar)));
        }
    }
    void aTextSaysWhichBarItIs() {
        // FF 01: text. Two bars of 4/4, then bar 5; only whole numbers count.
        MidiFile file{96, {{{768, 0xFF, midi::text, "bar 5"}, {1152, 0xFF, midi::marker, "Quay"}}}};
        const auto read = tempoMapOf(file, {48000}, "x");
        QVERIFY(read.has_value());
        const MusicalMap map(read->map, {48000});
        QCOMPARE(map.barStart(5).frame, std::int64_t{4 * 48000}); // without a tempo it is 120 BPM
        QCOMPARE(map.barStart(4).frame, std::int64_t{2 * 48000});
        const std::vector<Marker> markers{{6, "Quay"}};
        QVERIFY(read->markers == markers);
        for (const char* other : {"bar 5 or so", "bar -1", "bar ", "bar", "Bar 5", "bar 99999999999"}) {
            file.tracks[0][0].data = other;
            QCOMPARE(tempoMapOf(file, {48000}, "x")->map.origin.frame, std::int64_t{0});
        }
    }
    void roundingDoesNotAddUp() {
        // 97.3 BPM is 616,649.54 microseconds a quarter: rounded alike every time, a thousand bars would end 1.8 ms
        // off.
        MapData map;
        map.tempos = {{1, {97.3}}};
        const auto back = tempoMapOf(tempoMapFile(map, {48000}, 1001), {48000}, "x");
        QVERIFY(back.has_value());
        const FrameCount off =
            MusicalMap(back->map, {48000}).barStart(1001) - MusicalMap(map, {48000}).barStart(1001);
        QVERIFY2(std::abs(off.frames) <= 1, qPrintable(QString::number(off.frames)));
    }
    void anotherReaderAgrees() {
        // midicsv (John Walker) reads the file back: its ticks and tempos give the same times as the map.
        TempFolder folder;
        MapData map = songMap();
        map.tempos = {{1, {104}, true}, {4, {131}}, {6, {97.3}}};
        writeBytes(folder / "map.mid", midiBytes(tempoMapFile(map, {48000}, 12)));
        QProcess reader;
        reader.start("midicsv", {QString::fromStdString((folder / "map.mid").string())});
        QVERIFY2(reader.waitForFinished(10000) && reader.exitCode() == 0, "midicsv is missing or refused the file");
        double seconds = 0, quarter = 0.5, at = 0, perQuarter = 0;
        int meters = 0;
        std::vector<std::pair<double, double>> tempos; // tick, seconds up to it
        for (const QString& line : QString::fromLatin1(reader.readAllStandardOutput()).split('\n')) {
            const QStringList fields = line.split(", ");
            if (fields.size() > 5 && fields[2] == "Header")
                perQuarter = fields[5].toDouble();
            if (fields.size() > 2 && fields[2] == "Time_signature")
                ++meters;
            if (fields.size() < 4 || fields[2] != "Tempo")
                continue;
            seconds += (fields[1].toDouble() - at) / perQuarter * quarter;
            at = fields[1].toDouble();
            quarter = fields[3].toDouble() / 1e6;
            tempos.emplace_back(at, seconds);
        }
        QCOMPARE(meters, 4);
        QVERIFY(tempos.size() > 40); // the ramp's sixteenths
        const MusicalMap lines(map, {48000});
        for (const auto& [tick, time] : tempos) {
            double wholes = tick / perQuarter / 4;
            int bar = 1;
            for (; wholes >= lines.meterOf(bar).barInWholes() - 1e-9; ++bar)
                wholes -= lines.meterOf(bar).barInWholes();
            const double exact = static_cast<double>(lines.at(bar, std::max(0.0, wholes)).frame) / 48000;
            QVERIFY2(std::abs(time - exact) < 2.0 / 48000, qPrintable(QString::number((time - exact) * 48000)));
        }
    }
    void changesInsideBars() {
        // 4/4 at 120, and from the third beat of bar 2 at 60: bar 2 takes 1 + 2 s.
        const MidiFile file{480,
                            {{{0, 0xFF, midi::tempo, bytes({0x07, 0xA1, 0x20})},
                              {480 * 6, 0xFF, midi::tempo, bytes({0x0F, 0x42, 0x40})}}}};
        const auto read = tempoMapOf(file, {48000}, "x");
        const std::vector<TempoChange> changes{{1, {120}}, {2, {60}, false, 3}};
        QVERIFY(read && read->map.tempos == changes);
        const MusicalMap lines(read->map, {48000});
        QCOMPARE(lines.at(BarBeat{2, 3}).frame, std::int64_t{3 * 48000});
        QCOMPARE(lines.at(BarBeat{2, 4}).frame, std::int64_t{4 * 48000});
        QCOMPARE(lines.barStart(3).frame, std::int64_t{5 * 48000});
        // A meter that begins in the middle of a bar cuts it short: three beats, then 6/8.
        const MidiFile cut{480, {{{480 * 3, 0xFF, midi::meter, bytes({6, 3, 24, 8})}}}};
        const auto meters = tempoMapOf(cut, {48000}, "x");
        QVERIFY(meters.has_value());
        const std::vector<MeterChange> wanted{{1, {3, 4}}, {2, {6, 8}}};
        QVERIFY(meters->map.meters == wanted);
    }
    void anyTempoEventIsObeyed() {
        // Random tempo events at any tick: the map's times are the sum over the events, as the standard defines
        // them.
        std::mt19937 random(6);
        const auto whole = [&](int low, int high) { return std::uniform_int_distribution<>(low, high)(random); };
        for (int round = 0; round < 50; ++round) {
            MidiFile file{480, {{}}};
            std::vector<std::pair<std::int64_t, int>> tempos{{0, 500000}};
            file.tracks[0].push_back({0, 0xFF, midi::meter, bytes({whole(2, 7), 3, 24, 8})});
            const int perBar = file.tracks[0][0].data[0] * 240;
            for (std::int64_t tick = 0; tick < 20000; tick += whole(1, 700)) {
                const int micros = whole(250000, 1200000);
                tempos.emplace_back(tick, micros);
                file.tracks[0].push_back(
                    {tick, 0xFF, midi::tempo, bytes({micros >> 16, micros >> 8 & 255, micros & 255})});
            }
            const auto read = tempoMapOf(file, {48000}, "x");
            QVERIFY(read.has_value());
            const MusicalMap map(read->map, {48000});
            for (std::int64_t tick = 0; tick < 20000; tick += 97) {
                double seconds = 0;
                for (std::size_t i = 0; i < tempos.size() && tempos[i].first < tick; ++i) {
                    const std::int64_t end = i + 1 < tempos.size() ? std::min(tempos[i + 1].first, tick) : tick;
                    seconds += static_cast<double>(end - tempos[i].first) / 480 * tempos[i].second / 1e6;
                }
                const int bar = static_cast<int>(tick / perBar) + 1;
                const double inBar = static_cast<double>(tick % perBar) / 480 / 4;
                QVERIFY(std::abs(static_cast<double>(map.at(bar, inBar).frame) - seconds * 48000) <= 0.502);
            }
        }
    }
    void wrongFilesAreRefused_data() {
        QTest::addColumn<QByteArray>("content");
        QTest::addColumn<QString>("said");
        const QByteArray head("MThd\0\0\0\6", 8);
        QTest::newRow("empty") << QByteArray() << "not a MIDI file";
        QTest::newRow("text") << QByteArray("kick, snare") << "not a MIDI file";
        QTest::newRow("head only") << head + QByteArray("\0\1\0\1\0\x60", 6) << "not a MIDI file";
        QTest::newRow("film frames") << head + QByteArray("\0\1\0\1\xE7\x28", 6) << "film frames";
        QTest::newRow("format 2") << head + QByteArray("\0\2\0\1\0\x60", 6) << "format 2";
        QTest::newRow("track longer than the file")
            << head + QByteArray("\0\0\0\1\0\x60MTrk\0\0\1\0\0", 15) << "damaged";
    }
    void wrongFilesAreRefused() {
        QFETCH(QByteArray, content);
        QFETCH(QString, said);
        const auto read = midiFromBytes(content.toStdString(), "\"pier.mid\"");
        QVERIFY(!read);
        QVERIFY2(QString::fromStdString(read.error().sentence).contains(said), read.error().sentence.c_str());
        QVERIFY(QString::fromStdString(read.error().sentence).contains("pier.mid"));
    }
    void hostileBytesDoNoHarm() {
        const std::string good = midiBytes(tempoMapFile(songMap(), {48000}, 12));
        for (std::size_t length = 0; length < good.size(); ++length)
            QVERIFY(!midiFromBytes(good.substr(0, length), "x"));
        std::mt19937 random(1);
        int read = 0;
        for (int round = 0; round < 20000; ++round) {
            std::string bad = good;
            for (int change = 0; change < 4; ++change)
                bad[std::uniform_int_distribution<std::size_t>(0, bad.size() - 1)(random)] =
                    static_cast<char>(std::uniform_int_distribution<>(0, 255)(random));
            if (const auto file = midiFromBytes(bad, "x"))
                if (const auto map = tempoMapOf(*file, {48000}, "x")) {
                    ++read;
                    QVERIFY(map->map.meters.front().bar == 1 && map->map.tempos.front().bar == 1);
                }
        }
        QVERIFY(read > 0);
    }
};

QTEST_APPLESS_MAIN(TestMidi)
#include "tst_midi.moc"
