#include "map/grid.h"
#include "map/musical_map.h"

#include <QtTest>

#include <cmath>
#include <random>

using namespace lampo;

namespace {

MapData mapAt(double bpm, Meter meter = {}, std::int64_t origin = 0) {
    MapData data;
    data.origin = {origin};
    data.tempos = {{1, {bpm}}};
    data.meters = {{1, meter}};
    return data;
}

} // namespace

class TestMap : public QObject {
    Q_OBJECT
private slots:
    void sixteenthAt120() {
        // A sixteenth at 120 BPM is 6,000 samples at 48 kHz (arithmetic).
        const MusicalMap map(mapAt(120), {48000});
        const auto lines = gridLines(map, {{0}, {96000}}, [](int) { return NoteValue{1, 16}; });
        QCOMPARE(lines.size(), std::size_t{16});
        for (std::size_t i = 0; i < lines.size(); ++i)
            QCOMPARE(lines[i].frame.frame, static_cast<std::int64_t>(6000 * i));
        QCOMPARE(lines[4].place.beat, 2.0);
        QVERIFY(lines[0].weight == LineWeight::bar && lines[4].weight == LineWeight::beat &&
                lines[2].weight == LineWeight::half && lines[1].weight == LineWeight::fine);
    }
    void noErrorOverAnHour_data() {
        QTest::addColumn<double>("bpm");
        QTest::addColumn<int>("rate");
        QTest::newRow("104 at 48000") << 104.0 << 48000;
        QTest::newRow("93.7 at 44100") << 93.7 << 44100;
        QTest::newRow("181.3 at 96000") << 181.3 << 96000;
    }
    void noErrorOverAnHour() {
        QFETCH(double, bpm);
        QFETCH(int, rate);
        const MusicalMap map(mapAt(bpm, {}, 777), {rate});
        // Closed form in long double: bar n starts (n − 1) · 4 · 60 / tempo seconds after the origin.
        for (int bar = 1; bar < 3600 * bpm / 240; bar += 7) {
            const long double exact = 777 + (bar - 1) * 240.0L / static_cast<long double>(bpm) * rate;
            QVERIFY(std::fabs(static_cast<long double>(map.barStart(bar).frame) - exact) <= 0.5001L);
        }
    }
    void meterChanges() {
        MapData data = mapAt(120);
        data.meters = {{1, {4, 4}}, {3, {2, 4}}, {4, {7, 8}}};
        const MusicalMap map(data, {48000});
        QCOMPARE(map.barStart(3).frame, 192000);
        QCOMPARE(map.barStart(4).frame, 240000); // a lone 2/4 bar lasts one second
        QCOMPARE(map.barStart(5).frame, 324000); // 7/8 lasts 1.75 s
        const auto lines = gridLines(map, {map.barStart(4), map.barStart(5)}, [](int) { return NoteValue{1, 4}; });
        QCOMPARE(lines.size(), std::size_t{4}); // 0, 2, 4 and 6 eighths; the next line is the next bar's
        QCOMPARE(lines[3].place.beat, 7.0);
    }
    void tempoChange() {
        MapData data = mapAt(120);
        data.tempos = {{1, {120}}, {2, {60}}};
        const MusicalMap map(data, {48000});
        QCOMPARE(map.barStart(2).frame, 96000);
        QCOMPARE(map.barStart(3).frame, 96000 + 192000);
    }
    void triplets() {
        const MusicalMap map(mapAt(120), {48000});
        const auto lines = gridLines(map, {{0}, {96000}}, [](int) { return *noteValueNamed("1/8t"); });
        QCOMPARE(lines.size(), std::size_t{12});
        QCOMPARE(lines[1].frame.frame, 8000);
        QCOMPARE(lines[2].frame.frame, 16000); // the last note of a triplet lies at 66.7 % of the beat
    }
    void placesComeBack() {
        MapData data = mapAt(97.3, {4, 4}, -12345);
        data.meters.push_back({5, {7, 8}});
        data.tempos.push_back({9, {141.9}});
        const MusicalMap map(data, {44100});
        std::mt19937 random(1);
        for (int i = 0; i < 2000; ++i) {
            const SongFrame frame{std::uniform_int_distribution<std::int64_t>(-500000, 20000000)(random)};
            QVERIFY(std::abs((map.at(map.barBeat(frame)) - frame).frames) <= 1);
        }
        for (int bar = -3; bar < 40; ++bar) {
            QCOMPARE(map.barAt(map.barStart(bar)), bar);
            QCOMPARE(map.barAt(map.barStart(bar) - FrameCount{2}), bar - 1);
        }
    }
    void noteValues_data() {
        QTest::addColumn<QString>("text");
        QTest::addColumn<bool>("valid");
        for (const char* good : {"1/1", "1/4", "1/8", "1/16", "1/32", "1/4t", "1/8t", "1/16t"})
            QTest::newRow(good) << good << true;
        for (const char* bad : {"", "1/", "1/3", "1/0", "2/4", "1/128", "1/16x", "-1/4", "1/8tt", "1/99999999999"})
            QTest::newRow(bad) << bad << false;
    }
    void noteValues() {
        QFETCH(QString, text);
        QFETCH(bool, valid);
        const auto value = noteValueNamed(text.toStdString());
        QCOMPARE(value.has_value(), valid);
        if (valid)
            QCOMPARE(QString::fromStdString(name(*value)), text);
    }
};

QTEST_APPLESS_MAIN(TestMap)
#include "tst_map.moc"
