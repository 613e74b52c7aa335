#include "edits/edit.h"
#include "support/plain_song.h"
#include "timing/assignment.h"

#include <QtTest>

#include <array>
#include <cmath>
#include <numeric>
#include <random>

using namespace lampo;
using namespace lampo::test;

namespace {

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

/// Which lines the hits of built drummers are taken to mean.
class TestLines : public QObject {
    Q_OBJECT
private slots:
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
            Session session = songOf(FrameCount{48000 * 240});
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
            const Session session = *edited(songOf(FrameCount{48000 * 120}), SetTempo{{90.0 + seed % 10 * 10}});
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
    void nothingToDo() { QVERIFY(assignLines({}, {}, {48000}).empty()); }
    /// Where steps change, a hit may mean lines that do not follow one another: two fine ones lie between a half
    /// note's lines, too many of their own steps away.
    void linesOfTwoStepsAreNotTakenForOneAnother() {
        std::vector<TargetLine> lines;
        for (const auto& [frame, step] : {std::pair{0, 48000}, {48000, 12000}, {60000, 12000}, {72000, 48000}})
            lines.push_back({{SongFrame{frame}, {1, 1}, LineWeight::beat, FrameCount{step}}, {}});
        const std::vector<HitToAssign> hits{{SongFrame{0}, {}, {}}, {SongFrame{24000}, {}, {}}};
        const auto assigned = assignLines(hits, lines, {8000});
        QVERIFY(assigned[0].line == std::size_t{0} && assigned[1].line == std::size_t{3});
    }
};

QTEST_APPLESS_MAIN(TestLines)
#include "tst_lines.moc"
