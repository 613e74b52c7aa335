#include "demo_kit/score.h"
#include "map/musical_map.h"

#include <QtTest>

#include <cmath>
#include <set>

using namespace lampo;
using namespace lampo::demo;

namespace {

constexpr int rate = 48000;

double power(const std::vector<float>& samples, std::size_t begin, std::size_t end) {
    double sum = 0;
    for (std::size_t i = begin; i < end; ++i)
        sum += static_cast<double>(samples[i]) * samples[i];
    return sum / static_cast<double>(end - begin);
}

std::size_t micNamed(const std::vector<ModelMic>& mics, const std::string& stem) {
    return static_cast<std::size_t>(
        std::find_if(mics.begin(), mics.end(), [&](auto& m) { return m.stem == stem; }) - mics.begin());
}

/// The first sample that stands clearly out of the noise.
std::int64_t arrival(const std::vector<float>& samples) {
    for (std::size_t i = 0; i < samples.size(); ++i)
        if (std::abs(samples[i]) > 0.002F)
            return static_cast<std::int64_t>(i);
    return -1;
}

Milliseconds lateness(const Stroke& stroke, const MusicalMap& map) {
    return toMilliseconds(SongFrame{stroke.sample} - map.at(stroke.bar, (stroke.beat - 1) / 4), {rate});
}

} // namespace

class TestDemoKit : public QObject {
    Q_OBJECT
private slots:
    void soundArrivesWhenItShould() {
        // 343 m/s at 20 °C (handbook value): one metre is 2.9 ms.
        const auto mics = demoMics();
        const std::vector<Stroke> one{{10000, Drum::snare, 0.9, 1, 1, false}};
        const auto recorded = record(one, mics, rate, rate, 1);
        const std::size_t own = micNamed(mics, "snare_top");
        QVERIFY(std::abs(arrival(recorded[own]) - 10000) <= 8); // the truth speaks of the drum's own mic
        for (const char* stem : {"overhead_left", "overhead_right", "room"}) {
            const std::size_t far = micNamed(mics, stem);
            const double apart = std::hypot(mics[far].at.x + 0.3, mics[far].at.y - 0.55, mics[far].at.z - 0.65) -
                                 std::hypot(mics[own].at.x + 0.3, mics[own].at.y - 0.55, mics[own].at.z - 0.65);
            QVERIFY(std::abs(static_cast<double>(arrival(recorded[far])) - 10000 - apart / 343 * rate) < 24);
        }
    }
    void everyDrumIsHeardByEveryMicSofter() {
        const auto mics = demoMics();
        const std::vector<Stroke> one{{10000, Drum::kick, 0.9, 1, 1, false}};
        const auto recorded = record(one, mics, rate, rate, 1);
        const double own = power(recorded[micNamed(mics, "kick_in")], 10000, 20000);
        for (const char* stem : {"snare_top", "tom_rack", "tom_floor"}) {
            const auto& samples = recorded[micNamed(mics, stem)];
            const double down = 10 * std::log10(own / power(samples, 10000, 20000));
            QVERIFY2(down > 12 && down < 40, stem);
            QVERIFY(power(samples, 10000, 20000) > 10 * power(samples, 0, 9000)); // above the noise
        }
        const double noise = 10 * std::log10(power(recorded[0], 0, 9000));
        QVERIFY(std::abs(noise + 78) < 1);
    }
    void theBottomMicIsTurnedRound() {
        const auto mics = demoMics();
        QVERIFY(mics[micNamed(mics, "snare_bottom")].inverted);
        QCOMPARE(mics.size(), std::size_t{11});
    }
    void equalSeedsAreEqual() {
        const auto mics = demoMics();
        const std::vector<Stroke> strokes{{1000, Drum::crash, 0.7, 1, 1, false},
                                          {9000, Drum::tomFloor, 0.7, 1, 2, false}};
        QVERIFY(record(strokes, mics, 20000, rate, 5) == record(strokes, mics, 20000, rate, 5));
        QVERIFY(record(strokes, mics, 20000, rate, 5) != record(strokes, mics, 20000, rate, 6));
    }
    void theScoreIsWhatItSaysItIs() {
        const Score score = lighthouseRelay(rate);
        const MusicalMap map(score.map, {rate});
        QVERIFY((map.meterOf(11) == Meter{2, 4}) && (map.meterOf(12) == Meter{4, 4}));
        QCOMPARE(map.tempoOf(1).value, 104.0);
        QVERIFY(std::abs(static_cast<double>(score.length) / rate - 50) < 3);
        for (const char take : {'A', 'B', 'C'}) {
            const auto strokes = performance(score, take, rate);
            QVERIFY(std::is_sorted(strokes.begin(), strokes.end(),
                                   [](auto& a, auto& b) { return a.sample < b.sample; }));
            QVERIFY(strokes.front().sample >= 0 && strokes.back().sample < score.length);
            QCOMPARE(std::count_if(strokes.begin(), strokes.end(), [](auto& s) { return s.ghost; }), 25);
            // The triplet fill: twelve places, a third of a quarter apart.
            std::set<long> thirds;
            for (const auto& stroke : strokes)
                if (stroke.bar == 12)
                    thirds.insert(std::lround((stroke.beat - 1) * 3));
            QCOMPARE(thirds.size(), std::size_t{12});
        }
    }
    void takeAHasItsTroubles() {
        const Score score = lighthouseRelay(rate);
        const MusicalMap map(score.map, {rate});
        double earliest = 0;
        int clashes = 0, weak = 0;
        for (const Stroke& stroke : performance(score, 'A', rate)) {
            if (stroke.bar == 14 || stroke.bar == 15)
                earliest = std::min(earliest, lateness(stroke, map).value);
            clashes += stroke.bar == 9 && stroke.drum == Drum::sticks;
            weak += stroke.bar == 17 && stroke.beat == 4 && stroke.drum == Drum::snare && stroke.velocity < 0.4;
        }
        QVERIFY(earliest < -60.0 / 104 / 4 / 2 * 1000); // more than half a sixteenth
        QCOMPARE(clashes, 1);
        QCOMPARE(weak, 1);
    }
    void takeBHasTheBetterFill() {
        const Score score = lighthouseRelay(rate);
        const MusicalMap map(score.map, {rate});
        const auto unsteadiness = [&](char take) {
            double sum = 0, squares = 0, count = 0;
            for (const Stroke& stroke : performance(score, take, rate))
                if (stroke.bar == 12) {
                    const double late = lateness(stroke, map).value;
                    sum += late;
                    squares += late * late;
                    ++count;
                }
            return std::sqrt(squares / count - sum / count * sum / count);
        };
        QVERIFY(unsteadiness('B') < unsteadiness('A') / 1.5 && unsteadiness('B') < unsteadiness('C'));
    }
    void aFlamIsInEveryTake() {
        const Score score = lighthouseRelay(rate);
        for (const char take : {'A', 'B', 'C'}) {
            std::vector<std::int64_t> snares;
            for (const Stroke& stroke : performance(score, take, rate))
                if (stroke.bar == 10 && stroke.beat == 4 && stroke.drum == Drum::snare)
                    snares.push_back(stroke.sample);
            QCOMPARE(snares.size(), std::size_t{2});
            QCOMPARE(snares[1] - snares[0], 32 * 48);
        }
    }
};

QTEST_APPLESS_MAIN(TestDemoKit)
#include "tst_demo_kit.moc"
