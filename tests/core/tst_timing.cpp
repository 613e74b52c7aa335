#include "session/edit.h"
#include "timing/assignment.h"
#include "timing/landing.h"
#include "timing/tightness.h"

#include <QtTest>

#include <array>
#include <cmath>
#include <numeric>
#include <random>

using namespace lampo;

namespace {

constexpr std::int64_t sixteenth = 6000; // 120 BPM at 48 kHz

Session songOf(FrameCount length = {48000 * 120}) {
    Session session;
    session.rate = {48000};
    session.mics = {{}};
    session.takes = {{'A', {}, {{}}, {}, length}};
    return session;
}

Hit hitAt(std::int64_t at, double level = 0) {
    return {{at}, {at}, {at}, 0, 1, Voice::snare, {level}, false};
}

std::vector<Landing> landed(const Session& session, const std::vector<Hit>& hits) {
    return land(session, MusicalMap(session.map, session.rate), {}, hits);
}

/// A drummer: eighths and sixteenths that drift smoothly by up to `drift` steps, with jitter.
struct Performance {
    std::vector<Hit> hits;
    std::vector<std::int64_t> meant;
};

Performance perform(unsigned seed, double drift, double jitterMs) {
    std::mt19937 random(seed);
    Performance performance;
    for (std::int64_t step = 16; step < 16 * 40; ++step) {
        const bool strong = step % 4 == 0;
        if (!strong && std::uniform_int_distribution<>(0, 2)(random) != 0)
            continue;
        const double lean = drift * sixteenth * std::sin(2 * 3.14159265 * static_cast<double>(step - 16) / 256);
        const double jitter = std::normal_distribution<>(0, jitterMs * 48)(random);
        performance.meant.push_back(step * sixteenth);
        performance.hits.push_back(hitAt(step * sixteenth + std::llround(lean + jitter)));
    }
    return performance;
}

} // namespace

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
        Session session = songOf({rate * 60LL});
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
    void driftIsFollowed_data() {
        QTest::addColumn<double>("drift");
        QTest::newRow("none") << 0.0;
        QTest::newRow("half a step") << 0.5;
        QTest::newRow("0.9 of a step") << 0.9;
    }
    void driftIsFollowed() {
        QFETCH(double, drift);
        int wrong = 0, wrongNearest = 0, all = 0;
        for (unsigned seed = 1; seed <= 20; ++seed) {
            const auto performance = perform(seed, drift, 6);
            const auto landings = landed(songOf(), performance.hits);
            for (std::size_t i = 0; i < landings.size(); ++i) {
                ++all;
                wrong += !landings[i].line || landings[i].line->frame.frame != performance.meant[i];
                wrongNearest +=
                    std::llround(static_cast<double>(performance.hits[i].anchor.frame) / sixteenth) * sixteenth !=
                    performance.meant[i];
            }
        }
        qInfo("drift %.1f: %d of %d hits on a wrong line; nearest line: %d", drift, wrong, all, wrongNearest);
        QVERIFY(wrong * 1000 <= all * 5); // under 0.5 %
        QVERIFY(drift < 0.6 || wrongNearest > all / 10);
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
        session.corrections.push_back({Correction::Kind::place, 'A', hits[0].anchor, {500 - 900}, Voice::snare});
        const auto landings = landed(session, hits);
        QCOMPARE(landings[0].move().frames, landings[1].move().frames);
        QVERIFY(landings[0].heldTogether != landings[1].heldTogether);
    }
    void pinsAndPlacesHold() {
        Session session = songOf();
        session = *edited(session, Correct{{Correction::Kind::pin, 'A', {24700}, {}, Voice::snare}});
        session = *edited(session, Correct{{Correction::Kind::place, 'A', {48300}, {700}, Voice::snare}});
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
        session.map.origin = {200000};
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
        const auto lines = gridLines(map, {{0}, {96000}}, [&](int bar, int) {
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
        session = *edited(session, SetGoing{{}, Voice::hat, Going::ride});
        // Between its neighbours' moves, in proportion: −300 at 24,300 and −100 at 36,100.
        const double along = (30700.0 - 24300) / (36100 - 24300);
        QCOMPARE(moveOfHat(), std::int64_t{std::llround(-300 + along * 200)});
        session = *edited(session, SetGoing{{}, Voice::hat, Going::stay});
        QCOMPARE(moveOfHat(), std::int64_t{0});
        session.sections = {{"Pier", 1, 4, {}, {}}};
        session = *edited(session, SetGoing{0, Voice::hat, Going::land});
        QCOMPARE(moveOfHat(), std::int64_t{-700});
        session = *edited(session, FollowGoings{0});
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
    void nearestLinesForComparison() {
        // In the middle a passage leans by 0.7 of a step and comes back: by nearness all of it goes to wrong lines,
        // by the path none does.
        Session session = songOf();
        std::vector<Hit> hits;
        for (int step = 0; step < 144; ++step) {
            const double lean = std::clamp(std::min(step - 48, 112 - step) / 16.0, 0.0, 0.7);
            hits.push_back(hitAt(96000 + step * sixteenth + std::llround(lean * sixteenth)));
        }
        const auto wrong = [&] {
            const auto landings = landed(session, hits);
            int count = 0;
            for (int step = 0; step < 144; ++step)
                count += landings[static_cast<std::size_t>(step)].at.frame != 96000 + step * sixteenth;
            return count;
        };
        QCOMPARE(wrong(), 0);
        session = *edited(session, SetAssign{Assign::nearest});
        QVERIFY(wrong() > 40);
    }
    void aDriftingDrummerKeepsHisLines_data() {
        QTest::addColumn<double>("least");
        QTest::addColumn<double>("most");
        QTest::addColumn<bool>("anyGroove");
        QTest::addColumn<double>("doubted");    // per cent of the wrong ones, at least
        QTest::addColumn<double>("needlessly"); // per cent of all; who doubts everything is no help
        QTest::newRow("drifting by up to half a step") << 0.0 << 0.5 << false << 90.0 << 0.5;
        QTest::newRow("drifting by up to 0.9 of a step") << 0.3 << 0.9 << false << 90.0 << 0.5;
        QTest::newRow("any groove, by up to 0.9") << 0.3 << 0.9 << true << 90.0 << 4.0;
        // Half of these begin or end far from the grid, where nothing tells by which line.
        QTest::newRow("all by 0.9 of a step") << 0.9 << 0.9 << false << 50.0 << 4.0;
    }
    void aDriftingDrummerKeepsHisLines() {
        // Many drummers at 90 to 180 BPM who drift smoothly, with 8 ms of jitter, ghost notes, fills, missed
        // strokes and some that were heard but never played.
        QFETCH(double, least);
        QFETCH(double, most);
        QFETCH(bool, anyGroove);
        QFETCH(double, doubted);
        QFETCH(double, needlessly);
        int strokes = 0, wrong = 0, flagged = 0, needless = 0, nearestWrong = 0;
        for (unsigned seed = 0; seed < 200; ++seed) {
            std::mt19937 random(seed);
            const auto real = [&](double low, double high) {
                return std::uniform_real_distribution<>(low, high)(random);
            };
            Session session = songOf({48000 * 240});
            session = *edited(session, SetTempo{{90.0 + seed % 10 * 10}});
            const double step = 48000 * 15 / session.map.tempos.front().bpm.value;
            const double bars = real(24, 40), phase = real(0, 6.28), height = real(least, most);
            std::array<bool, 16> groove{};
            for (std::size_t place = 0; place < groove.size(); ++place)
                groove[place] = anyGroove ? real(0, 1) < (place % 4 == 0   ? 0.7
                                                          : place % 2 == 0 ? 0.4
                                                                           : 0.3)
                                          : place % 4 == 0 || place == 6 || place == 10;
            std::vector<Hit> hits;
            std::vector<std::int64_t> meant; // −1: between the lines
            for (std::int64_t line = 16; line < 16 * 48; ++line) {
                const auto inBar = static_cast<std::size_t>(line % 16);
                const bool fill = line / 16 % 8 == 7 && inBar >= 8;
                const bool pattern = groove[inBar] || fill;
                if (real(0, 1) < 0.01) { // heard, but never played
                    hits.push_back(hitAt(std::llround((static_cast<double>(line) + real(0.2, 0.8)) * step), -15));
                    meant.push_back(-1);
                }
                const bool ghost = !pattern && real(0, 1) < 0.15;
                if ((!pattern && !ghost) || real(0, 1) < 0.02)
                    continue;
                const double lean =
                    height * step * std::sin(phase + 2 * 3.14159265 * static_cast<double>(line) / 16 / bars * 2);
                const double jitter = std::normal_distribution<>(0, 8 * 48)(random);
                hits.push_back(
                    hitAt(std::llround(static_cast<double>(line) * step + lean + jitter), ghost ? -20 : 0));
                meant.push_back(line);
            }
            std::vector<std::size_t> order(hits.size());
            std::iota(order.begin(), order.end(), std::size_t{0});
            std::sort(order.begin(), order.end(),
                      [&](std::size_t a, std::size_t b) { return hits[a].anchor < hits[b].anchor; });
            std::vector<Hit> sorted;
            for (const std::size_t i : order)
                sorted.push_back(hits[i]);
            for (const Assign assign : {Assign::path, Assign::nearest}) {
                session.assign = assign;
                const auto landings = landed(session, sorted);
                for (std::size_t i = 0; i < sorted.size(); ++i) {
                    const auto line = std::llround(static_cast<double>(meant[order[i]]) * step);
                    const bool right = landings[i].line && std::abs(landings[i].line->frame.frame - line) <= 1;
                    if (assign == Assign::nearest) {
                        nearestWrong += !right && meant[order[i]] >= 0;
                        continue;
                    }
                    if (meant[order[i]] < 0)
                        continue;
                    ++strokes;
                    wrong += !right;
                    const bool isDoubted = landings[i].state != LandingState::landed;
                    flagged += !right && isDoubted;
                    needless += right && isDoubted;
                }
            }
        }
        qInfo("%d of %d strokes on a wrong line (%.2f %%), %d of them doubted; by nearness %d; %.2f %% doubted "
              "needlessly",
              wrong, strokes, 100.0 * wrong / strokes, flagged, nearestWrong, 100.0 * needless / strokes);
        QVERIFY(wrong * 200 <= strokes); // 0.5 %
        QVERIFY(flagged * 100 >= wrong * doubted);
        QVERIFY(nearestWrong > 20 * wrong); // what it is for
        QVERIFY(needless * 100 <= strokes * needlessly);
    }
    void strokesThatFitNoLinesAreDoubted() {
        // Bars of triplets among bars of sixteenths, against a grid of sixteenths: of three strokes in four no line
        // is right, and those must not pass for sure ones. The straight bars between them stay so.
        int triplets = 0, sure = 0, straight = 0, doubted = 0;
        for (unsigned seed = 0; seed < 60; ++seed) {
            std::mt19937 random(seed);
            std::normal_distribution<> jitter(0, 6 * 48); // 6 ms
            const Session session = *edited(songOf({48000 * 120}), SetTempo{{90.0 + seed % 10 * 10}});
            const double beat = 48000 * 60 / session.map.tempos.front().bpm.value;
            std::vector<Hit> hits;
            std::vector<bool> isTriplet;
            for (int at = 4; at < 4 * 24; ++at) {
                const bool fill = at / 4 % 6 == 5;
                for (int stroke = 0; stroke < (fill ? 3 : 2); ++stroke) {
                    hits.push_back(hitAt(std::llround((at + stroke / (fill ? 3.0 : 2.0)) * beat + jitter(random))));
                    isTriplet.push_back(fill);
                }
            }
            const auto landings = landed(session, hits);
            for (std::size_t i = 0; i < hits.size(); ++i) {
                const bool passes = landings[i].state == LandingState::landed;
                triplets += isTriplet[i];
                sure += isTriplet[i] && passes;
                straight += !isTriplet[i];
                doubted += !isTriplet[i] && !passes;
            }
        }
        qInfo("%.1f %% of triplet strokes on sixteenths pass for sure; %.1f %% of straight ones are doubted",
              100.0 * sure / triplets, 100.0 * doubted / straight);
        QVERIFY(sure * 10 <= triplets);
        QVERIFY(doubted * 50 <= straight);
    }
    void orderHoldsWhateverTheSettings() {
        std::mt19937 random(11);
        for (int round = 0; round < 300; ++round) {
            Session session = songOf({4000000});
            session.timing.strength = std::uniform_real_distribution<>(0, 100)(random);
            session.timing.grid = {1,
                                   std::vector<int>{4, 6, 8, 12, 16, 32, 10}[static_cast<std::size_t>(round) % 7]};
            session.timing.swing = std::uniform_real_distribution<>(50, 75)(random);
            session.timing.pocket = {round % 3 ? 0 : std::uniform_real_distribution<>(0, 30)(random)};
            session.timing.pull = round % 2 ? Pull::toEdge : Pull::toLine;
            if (round % 5 == 0)
                session.timing.reach = Reach{std::uniform_real_distribution<>(0, 1)(random), true};
            session.timing.goings[static_cast<std::size_t>(Voice::snare)] = static_cast<Going>(round % 11 % 3);
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
    void nothingToDo() {
        QVERIFY(landed(songOf(), {}).empty());
        QVERIFY(assignLines({}, {}, {48000}).empty());
    }
};

QTEST_APPLESS_MAIN(TestTiming)
#include "tst_timing.moc"
