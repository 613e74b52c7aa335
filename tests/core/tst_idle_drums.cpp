#include "strokes/leader_correlation.h"
#include "support/candidate_kit.h"

#include <QtTest>

#include <algorithm>
#include <array>
#include <cmath>
#include <random>
#include <string>
#include <utility>

using namespace lampo;
using namespace lampo::test;

namespace {

constexpr int perMs = 48;

/// Of a song of kick and snare by turns, as loud as it comes, and of a tom's mic that hears something of every
/// other two of these, softer and behind them, and nothing else. `follows`: it is as loud there as the drum that
/// was struck makes it. `rarely`: where the tom is struck by itself as well, 3 dB above that. `spread`: of levels,
/// dB.
TakeStrokes strokesOf(unsigned seed, bool follows, const std::vector<std::int64_t>& rarely = {},
                      double spread = 3) {
    std::mt19937 random(seed);
    std::normal_distribution<> level(0, spread), little(0, 0.15 * spread), late(2, 0.5);
    std::vector<std::vector<Candidate>> heard(3);
    for (std::size_t beat = 0; beat < 160; ++beat) {
        const auto at = static_cast<std::int64_t>(48000 + 12000 * beat);
        const double struck = level(random), another = level(random);
        heard[beat % 2].push_back(stroke(at, struck));
        if (beat % 4 < 2)
            heard[2].push_back(
                stroke(at + std::llround(perMs * late(random)), (follows ? struck : another) - 6 + little(random)));
    }
    for (const std::int64_t at : rarely) {
        heard[2].push_back(stroke(at, -3 + little(random)));
        for (const std::size_t elsewhere : {0, 1})
            heard[elsewhere].push_back(stroke(at + 3 * perMs, -22));
    }
    for (auto& mic : heard)
        std::sort(mic.begin(), mic.end(), [](const auto& a, const auto& b) { return a.at < b.at; });
    return CandidateKit(heard).strokes();
}

std::size_t tomsOf(const TakeStrokes& found) {
    return static_cast<std::size_t>(
        std::count_if(found.strokes.begin(), found.strokes.end(), [](const Stroke& one) { return one.mic == 2; }));
}

Candidate heardAt(std::int64_t at, double level) {
    return {SourceFrame{at}, {level}, {20}, {static_cast<float>(std::pow(10.0, level / 10)), 0, 0, 0}, {}};
}

/// A stroke of one of two drums, and what a third mic hears of the same moment, 2 ms later; dB.
struct Led {
    std::size_t leader;
    double struck, here;
};

/// What leaderCorrelations() says of the third mic, all of whose events are strong.
double followed(const std::vector<Led>& moments) {
    std::array<MicAnalysis, 3> heard;
    for (std::size_t i = 0; i < moments.size(); ++i) {
        const auto at = static_cast<std::int64_t>(10000 * (i + 1));
        heard.at(moments[i].leader).candidates.push_back(heardAt(at, moments[i].struck));
        heard[2].candidates.push_back(heardAt(at + 2 * perMs, moments[i].here));
    }
    std::vector<Witness> witnesses;
    for (const MicAnalysis& mic : heard)
        witnesses.push_back({MicIndex{witnesses.size()}, &mic});
    StrokesSoFar known{witnesses, Moments(witnesses, {48000}), std::vector<DrumModel>(3), {}, {{}, {}, {}}, {}, {}};
    for (Event& event : known.moments.events()) {
        event.struck = true;
        event.own = event.added;
    }
    for (DrumModel& drum : known.drums)
        drum.strong = {-20};
    return leaderCorrelations(known)[2];
}

/// 144 moments led by the first drum: in so many of each four the mic is 3 dB louder or softer as that drum
/// is, and in the others the other way.
std::vector<Led> alikeInOfFour(int alike) {
    std::vector<Led> moments;
    for (int i = 0; i < 144; ++i) {
        const double swing = i / 4 % 2 == 0 ? 3 : -3;
        moments.push_back({0, -20 + swing, -25 + (i % 4 < alike ? swing : -swing)});
    }
    return moments;
}

} // namespace

/// Drums that are said not to be struck in a take, since what their mics hear is other drums'.
class TestIdleDrums : public QObject {
    Q_OBJECT
private slots:
    /// Of two mics that hear something at the same moments, and never alone, the one whose levels are its own is a
    /// struck drum's, and the one whose levels are its leaders' hears bleed.
    void whatFollowsItsLeadersIsBleed() {
        for (unsigned seed = 1; seed <= 20; ++seed) {
            const TakeStrokes bleed = strokesOf(seed, true), struck = strokesOf(seed, false);
            QVERIFY(bleed.isIdle({2}) && tomsOf(bleed) == 0);
            QVERIFY(!struck.isIdle({2}));
            QVERIFY2(tomsOf(struck) >= 74, std::to_string(tomsOf(struck)).c_str()); // of 80
        }
    }
    /// A fill in a song that bleeds into the tom's mic at every other beat, nearly as loud: the fill and nothing
    /// else.
    void whatIsRarelyStruckIsHeardAmongBleed() {
        const std::vector<std::int64_t> fill{54000, 486000, 918000};
        for (unsigned seed = 1; seed <= 20; ++seed) {
            const TakeStrokes found = strokesOf(seed, true, fill);
            QVERIFY(!found.isIdle({2}));
            QCOMPARE(tomsOf(found), fill.size());
            for (const Stroke& one : found.strokes)
                QVERIFY(one.mic != 2 || std::count(fill.begin(), fill.end(), one.at.frame) == 1);
        }
    }
    /// A machine, or a limiter, makes all strokes alike: what never leads is silent then.
    void amongLevelsThatDoNotDifferWhatNeverLeadsIsBleed() {
        for (unsigned seed = 1; seed <= 20; ++seed)
            QVERIFY(strokesOf(seed, true, {}, 0.1).isIdle({2}));
    }
    /// The correlation of levels, which differ by 3 dB, less one and a half standard errors, an eighth of 144. A
    /// third of a dB is as good as the same.
    void levelsThatFollow() {
        const double same = 0.3 * 0.3;
        for (const auto& [alike, correlation] : {std::pair{4, 1.}, {3, 0.5}, {2, 0.}, {0, -1.}}) {
            const double expected = std::max(0.0, (9 * correlation + same) / (9 + same) - 1. / 8);
            QVERIFY(std::abs(followed(alikeInOfFour(alike)) - expected) < 1e-5);
        }
        QCOMPARE(followed({}), 0.0);
    }
    /// A louder drum is heard louder than a softer one: that alone is no bleed.
    void eachLeaderIsComparedWithItself() {
        auto moments = alikeInOfFour(2);
        for (Led led : alikeInOfFour(2))
            moments.push_back({1, led.struck - 4, led.here - 4});
        QCOMPARE(followed(moments), 0.0);
    }
};

QTEST_APPLESS_MAIN(TestIdleDrums)
#include "tst_idle_drums.moc"
