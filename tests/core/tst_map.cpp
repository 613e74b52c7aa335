#include "map/grid.h"
#include "map/map_edits.h"
#include "map/musical_map.h"
#include "map/place_text.h"

#include <QtTest>

#include <cmath>
#include <numeric>
#include <random>
#include <set>

using namespace lampo;

namespace {

MapData mapAt(double bpm, Meter meter = {}, std::int64_t origin = 0) {
    MapData data;
    data.origin = SongFrame{origin};
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
        const auto lines = gridLines(map, {SongFrame{0}, SongFrame{96000}}, [](int, int) {
            return NoteValue{1, 16};
        });
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
        const auto lines = gridLines(map, {map.barStart(4), map.barStart(5)}, [](int, int) {
            return NoteValue{1, 4};
        });
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
        const auto lines =
            gridLines(map, {SongFrame{0}, SongFrame{96000}}, [](int, int) { return *noteValueNamed("1/8t"); });
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
    void placesAsText() {
        const MusicalMap map(mapAt(120), {48000});
        // Arithmetic: a beat at 120 BPM is 24,000 frames, a bar 96,000.
        const std::vector<std::pair<const char*, std::int64_t>> places{
            {"3", 192000},           {"3.2", 216000},
            {"3.2.500", 228000},     {"3.2.500 +1ms", 228048},
            {"3.2 -2.5 ms", 215880}, {"3.2 \u22122.5 ms", 215880},
            {"1.5s", 72000},         {"1.5s+1ms", 72048}};
        for (const auto& [text, frame] : places) {
            const auto read = placeIn(map, text);
            QVERIFY2(read, text);
            QCOMPARE(read->frame, frame);
        }
        QCOMPARE(placeText(map, SongFrame{228000}), std::string("3.2.500"));
        for (std::int64_t frame = -50000; frame < 500000; frame += 4321)
            QVERIFY(std::abs((*placeIn(map, placeText(map, SongFrame{frame})) - SongFrame{frame}).frames) <= 12);
        for (const char* wrong : {"", "x", "3.", "3.0", "3.5", "3.2.500 ms", "ms", "+1ms", "1e9s", "3.2.x"})
            QVERIFY2(!placeIn(map, wrong), wrong);
    }
    void changesAreAddedMovedAndDropped() {
        MapData data = mapAt(100);
        data.tempos = {{1, {100}, true}, {9, {160}}};
        data.meters = {{1, {4, 4}}, {5, {3, 4}}};
        const SampleRate rate{48000};
        const MapData added = withTempoAt(data, rate, 4);
        QCOMPARE(added.tempos.size(), std::size_t{3});
        for (int bar = 1; bar < 14; ++bar) // bar lines stay
            QCOMPARE(MusicalMap(added, rate).barStart(bar), MusicalMap(data, rate).barStart(bar));
        QVERIFY(withTempoAt(added, rate, 4) == added && withTempoAt(data, rate, 1) == data);
        const MapData moved = withChangeMoved(data, {5, 1}, 7);
        QCOMPARE(moved.meters[1].bar, 7);
        QVERIFY(withChangeMoved(data, {1, 1}, 7) == data && withChangeMoved(data, {6, 1}, 8) == data);
        QCOMPARE(withChangeMoved(data, {9, 1}, 3).tempos[1].bar, 3);
        QVERIFY(withoutChange(added, {4, 1}) == data && withoutChange(data, {1, 1}) == data);
        // One inside a bar: a bar line before it is free, and moved it stands on a bar line.
        data.tempos.insert(data.tempos.begin() + 1, {4, {120}, false, 3.5});
        QCOMPARE(withTempoAt(data, rate, 4).tempos.size(), std::size_t{4});
        QVERIFY(withoutChange(data, {4, 1}) == data);
        QCOMPARE(withoutChange(data, {4, 3.5}).tempos.size(), std::size_t{2});
        QVERIFY(placeOf(withChangeMoved(data, {4, 3.5}, 6).tempos[1]) == (BarBeat{6, 1}));
        QCOMPARE(placeText(BarBeat{4, 3.5}), std::string("4.3.5"));
        QVERIFY(*barBeatIn("4.3.5") == (BarBeat{4, 3.5}) && *barBeatIn("12") == (BarBeat{12, 1}));
        QVERIFY(!barBeatIn("4.0") && !barBeatIn("x") && !barBeatIn(""));
    }
    void lengthsOfNoteValues() {
        // Arithmetic: five in the time of four, three in the time of two, half as long again.
        QVERIFY(*noteValueNamed("1/16q") == (NoteValue{1, 20}) && *noteValueNamed("1/1q") == (NoteValue{4, 5}));
        QVERIFY(*noteValueNamed("1/8t") == (NoteValue{1, 12}) && *noteValueNamed("1/8d") == (NoteValue{3, 16}));
        const MusicalMap map(mapAt(120), {48000});
        const auto lines =
            gridLines(map, {SongFrame{0}, SongFrame{96000}}, [](int, int) { return *noteValueNamed("1/16q"); });
        QCOMPARE(lines.size(), std::size_t{20});
        QCOMPARE(lines[3].frame.frame, 14400);
        const auto dotted =
            gridLines(map, {SongFrame{0}, SongFrame{96000}}, [](int, int) { return *noteValueNamed("1/8d"); });
        QCOMPARE(dotted.size(), std::size_t{6}); // 0, 3, 6, 9, 12 and 15 sixteenths; the next bar begins anew
    }
    void ramps_data() {
        QTest::addColumn<int>("rate");
        for (const int rate : {44100, 48000, 88200, 96000})
            QTest::newRow(qPrintable(QString::number(rate))) << rate;
    }
    void ramps() {
        // A ramp over meters that change, against Simpson's rule on 240 / tempo, note by note.
        QFETCH(int, rate);
        MapData data = mapAt(90, {4, 4}, 1234);
        data.meters = {{1, {4, 4}}, {6, {7, 8}}, {9, {3, 4}}};
        data.tempos = {{1, {90}}, {3, {90}, true}, {11, {150}, true}, {15, {80}}};
        const MusicalMap map(data, {rate});
        const auto meter = [](int bar) { return bar < 6 ? 1.0 : bar < 9 ? 7.0 / 8 : 3.0 / 4; };
        const auto wholesTo = [&](int bar) {
            double wholes = 0;
            for (int b = 1; b < bar; ++b)
                wholes += meter(b);
            return wholes;
        };
        const auto tempo = [&](double x) {
            const double a = wholesTo(3), b = wholesTo(11), c = wholesTo(15);
            return x < a ? 90 : x < b ? 90 + 60 * (x - a) / (b - a) : x < c ? 150 - 70 * (x - b) / (c - b) : 80.0;
        };
        double seconds = 0;
        for (int bar = 1; bar < 20; ++bar) {
            constexpr int pieces = 2000;
            for (int i = 0; i < pieces; ++i) {
                const double exact = 1234 + seconds * rate;
                const double inBar = meter(bar) * i / pieces;
                if (i % 125 == 0) // also between the lines
                    QVERIFY(std::abs(static_cast<double>(map.at(bar, inBar).frame) - exact) <= 0.501);
                const double x = wholesTo(bar) + inBar, h = meter(bar) / pieces;
                seconds += h / 6 * 240 * (1 / tempo(x) + 4 / tempo(x + h / 2) + 1 / tempo(x + h - 1e-12));
            }
        }
        for (std::int64_t frame = -200000; frame < 4000000; frame += 7777)
            QVERIFY(std::abs((map.at(map.barBeat(SongFrame{frame})) - SongFrame{frame}).frames) <= 1);
        QCOMPARE(map.tempoOf(3).value, 90.0);
        QVERIFY(std::abs(map.tempoOf(7).value - tempo(wholesTo(7))) < 1e-9);
    }
    void changesInsideBars_data() { ramps_data(); }
    void changesInsideBars() {
        // Steps and ramps that begin and end anywhere in bars whose meters change, against Simpson's rule from one
        // change to the next.
        QFETCH(int, rate);
        MapData data = mapAt(97, {4, 4}, -4321);
        data.meters = {{1, {4, 4}}, {3, {7, 8}}, {5, {3, 4}}};
        data.tempos = {{1, {97}},
                       {1, {140}, false, 2},
                       {2, {80}, true, 3.5},
                       {3, {150}, true, 4.25},
                       {4, {60}, false, 7.9},
                       {6, {111}, true, 1},
                       {6, {90}, false, 3 + 1.0 / 3}};
        const MusicalMap map(data, {rate});
        const std::vector<double> lengths{1, 1, 7.0 / 8, 7.0 / 8, 3.0 / 4, 3.0 / 4, 3.0 / 4};
        const std::vector<int> units{4, 4, 8, 8, 4, 4, 4};
        const auto wholesTo = [&](int bar) {
            return std::accumulate(lengths.begin(), lengths.begin() + bar - 1, 0.0);
        };
        const auto placeOfChange = [&](const TempoChange& change) {
            return wholesTo(change.bar) + (change.beat - 1) / units[static_cast<std::size_t>(change.bar - 1)];
        };
        const auto tempo = [&](double x) {
            std::size_t i = 0;
            while (i + 1 < data.tempos.size() && placeOfChange(data.tempos[i + 1]) <= x)
                ++i;
            const TempoChange& now = data.tempos[i];
            if (!now.ramp)
                return now.bpm.value;
            const double from = placeOfChange(now), to = placeOfChange(data.tempos[i + 1]);
            return now.bpm.value + (data.tempos[i + 1].bpm.value - now.bpm.value) * (x - from) / (to - from);
        };
        std::set<double> places; // changes, and places between them
        for (const TempoChange& change : data.tempos)
            places.insert(placeOfChange(change));
        for (double x = 0.01; x < wholesTo(7); x += 0.013)
            places.insert(x);
        double seconds = 0, at = 0;
        for (const double place : places) {
            constexpr int pieces = 40;
            const double h = (place - at) / pieces;
            for (int i = 0; i < pieces && h > 0; ++i) {
                const double x = at + i * h + 1e-13;
                seconds += h / 6 * 240 * (1 / tempo(x) + 4 / tempo(x + h / 2) + 1 / tempo(x + h - 2e-13));
            }
            at = place;
            int bar = 1;
            while (bar < 7 && wholesTo(bar + 1) <= place)
                ++bar;
            const double exact = -4321 + seconds * rate;
            QVERIFY(std::abs(static_cast<double>(map.at(bar, place - wholesTo(bar)).frame) - exact) <= 0.502);
            // Also counted from the bars around it.
            QVERIFY(std::abs((map.at(1, place) - map.at(bar, place - wholesTo(bar))).frames) <= 1);
            QVERIFY(std::abs((map.at(7, place - wholesTo(7)) - map.at(1, place)).frames) <= 1);
            const BarBeat back = map.barBeat(SongFrame{std::llround(exact)});
            QVERIFY(std::abs((map.at(back) - SongFrame{std::llround(exact)}).frames) <= 1);
        }
        for (int bar = 1; bar < 8; ++bar)
            QCOMPARE(map.barAt(map.barStart(bar)), bar);
    }
    void aChangeBeyondItsBarLiesAtTheEnd() {
        // The meter became shorter: 2/4 where the change was on beat 4, in a ramp and without.
        MapData data = mapAt(120);
        data.meters = {{1, {4, 4}}, {2, {2, 4}}, {3, {4, 4}}};
        data.tempos = {{1, {120}}, {2, {60}, false, 4}};
        QCOMPARE(MusicalMap(data, {48000}).barStart(3).frame, std::int64_t{96000 + 48000});
        QCOMPARE(MusicalMap(data, {48000}).barStart(4).frame, std::int64_t{96000 + 48000 + 192000});
        data.tempos = {{1, {120}}, {2, {60}, true, 3}, {2, {90}, false, 4}};
        QCOMPARE(MusicalMap(data, {48000}).barStart(4).frame, std::int64_t{96000 + 48000 + 128000});
    }
    void anHourOfRamps() {
        // Up and down for an hour: the error does not grow. Each ramp of 8 bars lasts 240 · 32 / 4 / k · ln …
        // seconds, in long double.
        MapData data = mapAt(100);
        data.tempos.clear();
        for (int i = 0; i < 240; ++i)
            data.tempos.push_back({1 + 8 * i, {i % 2 ? 160.0 : 100.0}, true});
        const MusicalMap map(data, {96000});
        const long double each = 240.0L / 7.5L * std::log(1.6L) * 96000; // 60 BPM in 8 whole notes
        for (int i = 0; i < 240; ++i)
            QVERIFY(std::fabs(static_cast<long double>(map.barStart(1 + 8 * i).frame) - each * i) <= 0.501L);
        QVERIFY(each * 239 / 96000 > 3500);
    }
    void noteValues_data() {
        QTest::addColumn<QString>("text");
        QTest::addColumn<bool>("valid");
        for (const char* good : {"1/1", "1/4", "1/8", "1/16", "1/32", "1/4t", "1/8t", "1/16t", "1/64", "1/64t",
                                 "1/1t", "1/8d", "1/4d", "1/1d", "1/16q", "1/4q", "1/1q"})
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
