#include "edits/edit.h"
#include "support/plain_song.h"
#include "timing/tightness.h"

#include <QtTest>

#include <cmath>
#include <random>

using namespace lampo;
using namespace lampo::test;

class TestTiming : public QObject {
    Q_OBJECT
private slots:
    void fullStrengthLandsOnTheLine_data() {
        QTest::addColumn<int>("rate");
        QTest::addColumn<double>("bpm");
        QTest::newRow("44100") << 44100 << 104.0;
        QTest::newRow("48000") << 48000 << 131.7;
        QTest::newRow("88200") << 88200 << 96.0;
        QTest::newRow("96000") << 96000 << 180.0;
    }
    void fullStrengthLandsOnTheLine() {
        QFETCH(int, rate);
        QFETCH(double, bpm);
        Session session = songOf();
        session.rate = {rate};
        session.map.tempos = {{1, {bpm}}};
        std::vector<Hit> hits;
        std::mt19937 random(2);
        for (int step = 8; step < 400; step += 2)
            hits.push_back(hitAt(std::llround(step * 15.0 / bpm * rate) +
                                 std::uniform_int_distribution<>(-rate / 60, rate / 60)(random)));
        const auto landings = landed(session, hits);
        for (std::size_t i = 0; i < hits.size(); ++i) // a sixteenth lasts 15 / tempo seconds
            QCOMPARE(landings[i].at.frame,
                     static_cast<std::int64_t>(std::llround(static_cast<double>(8 + 2 * i) * 15.0L / bpm * rate)));
    }
    void landingsAreExactThroughRampsAndMeters_data() {
        QTest::addColumn<int>("rate");
        for (const int rate : {44100, 48000, 88200, 96000})
            QTest::newRow(qPrintable(QString::number(rate))) << rate;
    }
    void landingsAreExactThroughRampsAndMeters() {
        // 100 to 160 BPM over eight bars of 4/4, then 7/8 at 90. Lines by Simpson's rule over 240 / tempo, which
        // has nothing of the closed form.
        QFETCH(int, rate);
        Session session = songOf(FrameCount{rate * 60LL});
        session.rate = {rate};
        session.map.meters = {{1, {4, 4}}, {9, {7, 8}}};
        session.map.tempos = {{1, {100}, true}, {9, {160}, false}, {13, {90}, false}};
        const auto tempo = [](double wholes) {
            return wholes < 8 ? 100 + 60 * wholes / 8 : wholes < 8 + 4 * 7.0 / 8 ? 160.0 : 90.0;
        };
        std::vector<double> lines; // seconds, of the sixteenths
        double seconds = 0;
        constexpr int pieces = 200;
        for (int sixteenths = 0; sixteenths < 8 * 16 + 8 * 14; ++sixteenths) {
            lines.push_back(seconds);
            for (int i = 0; i < pieces; ++i) {
                const double h = 1.0 / 16 / pieces, x = sixteenths / 16.0 + i * h;
                seconds += h / 6 * 240 * (1 / tempo(x) + 4 / tempo(x + h / 2) + 1 / tempo(x + h - 1e-12));
            }
        }
        std::vector<Hit> hits;
        std::mt19937 random(8);
        for (std::size_t line = 2; line < lines.size(); line += 2)
            hits.push_back(hitAt(std::llround(lines[line] * rate) +
                                 std::uniform_int_distribution<>(-rate / 70, rate / 70)(random)));
        const auto landings = landed(session, hits);
        for (std::size_t i = 0; i < hits.size(); ++i)
            QVERIFY(std::abs(static_cast<double>(landings[i].at.frame) - lines[2 + 2 * i] * rate) <= 0.501);
    }
    void strengthLeavesItsShare_data() {
        QTest::addColumn<double>("strength");
        for (const double s : {0.0, 25.0, 50.0, 80.0, 99.0, 100.0})
            QTest::addRow("%g %%", s) << s;
    }
    void strengthLeavesItsShare() {
        QFETCH(double, strength);
        const Session session = *edited(songOf(), SetStrength{strength});
        const std::vector<Hit> hits{hitAt(24000 + 301), hitAt(36000 - 777), hitAt(48000), hitAt(72000 + 999)};
        const std::vector<std::int64_t> lines{24000, 36000, 48000, 72000};
        const auto landings = landed(session, hits);
        for (std::size_t i = 0; i < hits.size(); ++i) {
            const auto left =
                std::llround((1 - strength / 100) * static_cast<double>(hits[i].anchor.frame - lines[i]));
            QCOMPARE(landings[i].at.frame, lines[i] + left);
        }
    }
    void aFlamBetweenLinesRides() {
        // 40 ms before the main stroke: no line of its own, so it keeps its distance as far as its neighbours
        // allow.
        const std::vector<Hit> hits{hitAt(24000), hitAt(48000 + 480 - 1920, -10), hitAt(48000 + 480), hitAt(72000)};
        const auto landings = landed(songOf(), hits);
        QCOMPARE(landings[1].state, LandingState::left);
        QCOMPARE(landings[2].at.frame, 48000);
        QVERIFY(std::abs((landings[2].at - landings[1].at).frames - 1920) < 50);
    }
    void hitsTooNearMoveTogether() {
        // 16.5 ms apart cannot be cut with 1 + 15 ms around each attack whole, and a fade between.
        const std::vector<Hit> hits{hitAt(24000 - 500), hitAt(24000 - 500 + 792), hitAt(48000)};
        Session session =
            *edited(songOf(), Correct{{Correction::Kind::pin, 'A', hits[1].anchor, {}, Voice::snare}});
        session.corrections.push_back(
            {Correction::Kind::place, 'A', hits[0].anchor, FrameCount{500 - 900}, Voice::snare});
        const auto landings = landed(session, hits);
        QCOMPARE(landings[0].move().frames, landings[1].move().frames);
        QVERIFY(landings[0].heldTogether != landings[1].heldTogether);
    }
    void pinsAndPlacesHold() {
        Session session = songOf();
        session = *edited(session, Correct{{Correction::Kind::pin, 'A', SourceFrame{24700}, {}, Voice::snare}});
        session = *edited(
            session, Correct{{Correction::Kind::place, 'A', SourceFrame{48300}, FrameCount{700}, Voice::snare}});
        const auto landings = landed(session, {hitAt(24700), hitAt(48300), hitAt(72300)});
        QCOMPARE(landings[0].at.frame, 24700);
        QCOMPARE(landings[1].at.frame, 49000);
        QCOMPARE(landings[2].at.frame, 72000);
        QVERIFY(landings[0].state == LandingState::pinned && landings[1].state == LandingState::pinned);
    }
    void aSectionsGridRulesItsBars() {
        Session session = songOf();
        session.sections = {{"Turn", 2, 1, NoteValue{1, 12}, {}}};
        const auto landings =
            landed(session, {hitAt(96000 + 8000 + 300), hitAt(96000 + 16000 - 300), hitAt(192000 + 5700)});
        QCOMPARE(landings[0].at.frame, 96000 + 8000);
        QCOMPARE(landings[1].at.frame, 96000 + 16000);
        QCOMPARE(landings[2].at.frame, 192000 + 6000);
    }
    void countInAndPickUp() {
        // Bar 1 is a pick-up of one quarter, and lies two bars and a bit after the begin: what is played before it
        // has lines as well. Arithmetic: at 120 BPM and 48 kHz a quarter is 24,000 frames.
        Session session = songOf();
        session.map.origin = SongFrame{200000};
        session.map.meters = {{1, {1, 4}}, {2, {4, 4}}};
        session = *edited(session, SetSections{{{"Count", -5, 6, NoteValue{1, 4}, {}}}, "x"});
        std::vector<Hit> hits;
        std::vector<std::int64_t> lines;
        for (std::int64_t quarter = -8; quarter < 9; ++quarter) {
            lines.push_back(200000 + 24000 * quarter);
            hits.push_back(hitAt(lines.back() + 300 * (quarter % 3)));
        }
        const auto landings = landed(session, hits);
        for (std::size_t i = 0; i < hits.size(); ++i)
            QCOMPARE(landings[i].at.frame, lines[i]);
        QCOMPARE(landings[7].line->place.bar, 0); // as long as the bar that it counts into
        QCOMPARE(landings[8].line->place.bar, 1);
        QVERIFY(landings[9].line->place == (BarBeat{2, 1}));
        QVERIFY(landings[14].line->place == (BarBeat{3, 2}));
        // In the count only quarters are lines: an eighth between them rides.
        QCOMPARE(landed(session, {hitAt(176000), hitAt(188000, -20), hitAt(200000)})[1].state, LandingState::left);
        QCOMPARE(landed(session, {hitAt(224000), hitAt(236000, -20), hitAt(248000)})[1].state,
                 LandingState::landed);
    }
    void swingIsWhereTheSecondOfTwoLies_data() {
        QTest::addColumn<double>("swing");
        QTest::addColumn<QString>("grid");
        QTest::addColumn<int>("offBeat"); // frames after the first of the pair, at 120 BPM and 48 kHz
        // Arithmetic: the off-beat of two steps lies at the swing's share of both; 66.7 % is a triplet's last note.
        QTest::newRow("straight") << 50.0 << "1/8" << 12000;
        QTest::newRow("triplet") << 200.0 / 3 << "1/8" << 16000;
        QTest::newRow("dotted") << 75.0 << "1/8" << 18000;
        QTest::newRow("sixteenths") << 58.0 << "1/16" << 6960;
        QTest::newRow("quarters do not swing") << 70.0 << "1/4" << 24000;
        QTest::newRow("triplets do not swing") << 70.0 << "1/8t" << 8000;
    }
    void swingIsWhereTheSecondOfTwoLies() {
        QFETCH(double, swing);
        QFETCH(QString, grid);
        QFETCH(int, offBeat);
        Session session = *edited(songOf(), SetGrid{*noteValueNamed(grid.toStdString())});
        session = *edited(session, SetSwing{{}, swing});
        const MusicalMap map(session.map, session.rate);
        const auto lines = gridLines(map, {SongFrame{0}, SongFrame{96000}}, [&](int bar, int) {
            const auto timing = session.timingOf(bar);
            return GridRule(timing.grid, timing.swing);
        });
        QCOMPARE(lines[1].frame.frame, std::int64_t{offBeat});
        QCOMPARE(lines[0].frame.frame, std::int64_t{0});
        // Played a little off, both land there to the sample.
        const auto landings = landed(session, {hitAt(96000 + 200), hitAt(96000 + offBeat - 300), hitAt(192000)});
        QCOMPARE(landings[1].at.frame, std::int64_t{96000 + offBeat});
    }
    void strengthPocketAndReachAtTheirEdges_data() {
        QTest::addColumn<double>("strength");
        QTest::addColumn<double>("pocket");
        QTest::addColumn<bool>("edge");
        QTest::addColumn<double>("reach");
        QTest::addColumn<int>("deviation"); // frames; 48 are a millisecond
        QTest::addColumn<int>("left");
        QTest::newRow("full") << 100.0 << 0.0 << false << 0.0 << 700 << 0;
        QTest::newRow("three quarters") << 75.0 << 0.0 << false << 0.0 << 700 << 175;
        QTest::newRow("none") << 0.0 << 0.0 << false << 0.0 << -700 << -700;
        QTest::newRow("on the pocket's edge") << 100.0 << 10.0 << false << 0.0 << 480 << 480;
        QTest::newRow("just outside") << 100.0 << 10.0 << false << 0.0 << 481 << 0;
        QTest::newRow("just outside, early") << 100.0 << 10.0 << false << 0.0 << -481 << 0;
        QTest::newRow("pulled to the edge") << 100.0 << 10.0 << true << 0.0 << 700 << 480;
        QTest::newRow("to the edge, early") << 100.0 << 10.0 << true << 0.0 << -700 << -480;
        QTest::newRow("half way to the edge") << 50.0 << 10.0 << true << 0.0 << 700 << 590;
        QTest::newRow("at the end of the reach") << 100.0 << 0.0 << false << 15.0 << 720 << 0;
        QTest::newRow("beyond the reach") << 100.0 << 0.0 << false << 15.0 << 721 << 721;
        QTest::newRow("half strength is within reach") << 50.0 << 0.0 << false << 15.0 << 1440 << 720;
    }
    void strengthPocketAndReachAtTheirEdges() {
        QFETCH(double, strength);
        QFETCH(double, pocket);
        QFETCH(bool, edge);
        QFETCH(double, reach);
        QFETCH(int, deviation);
        QFETCH(int, left);
        Session session = *edited(songOf(), SetStrength{strength});
        session = *edited(session, SetPocket{{}, Milliseconds{pocket}});
        session = *edited(session, SetPull{{}, edge ? Pull::toEdge : Pull::toLine});
        if (reach > 0)
            session = *edited(session, SetReach{{}, Reach{reach, false}});
        const auto landings = landed(session, {hitAt(24000), hitAt(48000 + deviation), hitAt(72000)});
        QCOMPARE(landings[1].at.frame, std::int64_t{48000 + left});
        QCOMPARE(landings[1].state == LandingState::beyond, reach > 0 && deviation > 720 && strength == 100);
    }
    void drumsLandRideOrStay() {
        Session session = songOf();
        std::vector<Hit> hits{hitAt(24000 + 300), hitAt(30000 + 700), hitAt(36000 + 100)};
        hits[1].voice = Voice::hat;
        const auto moveOfHat = [&] { return landed(session, hits)[1].move().frames; };
        QCOMPARE(moveOfHat(), std::int64_t{-700});
        session = *edited(session, SetDrumTiming{{}, Voice::hat, DrumTiming::ride});
        // Between its neighbours' moves, in proportion: −300 at 24,300 and −100 at 36,100.
        const double along = (30700.0 - 24300) / (36100 - 24300);
        QCOMPARE(moveOfHat(), std::int64_t{std::llround(-300 + along * 200)});
        session = *edited(session, SetDrumTiming{{}, Voice::hat, DrumTiming::stay});
        QCOMPARE(moveOfHat(), std::int64_t{0});
        session.sections = {{"Pier", 1, 4, {}, {}}};
        session = *edited(session, SetDrumTiming{0, Voice::hat, DrumTiming::land});
        QCOMPARE(moveOfHat(), std::int64_t{-700});
        session = *edited(session, FollowDrumTimings{0});
        QCOMPARE(moveOfHat(), std::int64_t{0});
    }
    void sectionsSetTheirOwnOrFollowTheSong() {
        Session session = songOf();
        session.sections = {{"Pier", 2, 1, {}, {}}};
        session = *edited(session, SetPocket{0, Milliseconds{10}});
        session = *edited(session, SetSwing{0, 60});
        session = *edited(session, SetReach{0, Reach{0.25, true}});
        QCOMPARE(session.timingOf(1).pocket.value, 0.0);
        QCOMPARE(session.timingOf(2).pocket.value, 10.0);
        QCOMPARE(session.timingOf(2).swing, 60.0);
        session = *edited(session, SetPocket{0, std::nullopt});
        QCOMPARE(session.timingOf(2).pocket.value, 0.0);
        QVERIFY(!edited(session, SetSwing{{}, 80}) && !edited(session, SetPocket{{}, Milliseconds{-1}}));
        QVERIFY(!edited(session, SetReach{{}, Reach{5, true}}) && !edited(session, SetSwing{3, 60}));
    }
    void orderHoldsWhateverTheSettings() {
        std::mt19937 random(11);
        for (int round = 0; round < 300; ++round) {
            Session session = songOf(FrameCount{4000000});
            session.timing.strength = std::uniform_real_distribution<>(0, 100)(random);
            session.timing.grid = {1,
                                   std::vector<int>{4, 6, 8, 12, 16, 32, 10}[static_cast<std::size_t>(round) % 7]};
            session.timing.swing = std::uniform_real_distribution<>(50, 75)(random);
            session.timing.pocket = {round % 3 ? 0 : std::uniform_real_distribution<>(0, 30)(random)};
            session.timing.pull = round % 2 ? Pull::toEdge : Pull::toLine;
            if (round % 5 == 0)
                session.timing.reach = Reach{std::uniform_real_distribution<>(0, 1)(random), true};
            session.timing.drumTimings[static_cast<std::size_t>(Voice::snare)] =
                static_cast<DrumTiming>(round % 11 % 3);
            session.assign = round % 4 ? Assign::path : Assign::nearest;
            std::vector<Hit> hits;
            std::int64_t at = std::uniform_int_distribution<>(0, 4000)(random);
            for (int i = 0; i < 150; ++i) {
                hits.push_back(hitAt(at, std::uniform_real_distribution<>(-20, 0)(random)));
                at += std::uniform_int_distribution<>(round % 2 ? 500 : 3000, 20000)(random);
            }
            const auto landings = landed(session, hits);
            QVERIFY(landings.front().at.frame >= 0);
            for (std::size_t i = 1; i < landings.size(); ++i)
                QVERIFY(landings[i - 1].at < landings[i].at);
        }
    }
    void figures() {
        const std::vector<Hit> hits{hitAt(24000 + 480), hitAt(48000 - 480), hitAt(72000 + 96)};
        const auto landings = landed(*edited(songOf(), SetStrength{50}), hits);
        const auto played = tightness(landings, Moment::asPlayed, {48000});
        QCOMPARE(played.hits, std::size_t{3});
        QVERIFY(qAbs(played.mean.value - 2.0 / 3) < 1e-9);
        QVERIFY(qAbs(played.withinFive - 1.0 / 3) < 1e-9);
        QCOMPARE(qAbs(played.worst.value), 10.0);
        QCOMPARE(qAbs(tightness(landings, Moment::asLanded, {48000}).worst.value), 5.0);
    }
    void nothingToDo() { QVERIFY(landed(songOf(), {}).empty()); }
};

QTEST_APPLESS_MAIN(TestTiming)
#include "tst_timing.moc"
