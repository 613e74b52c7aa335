#include "support/candidate_kit.h"

#include <QtTest>

#include <random>

using namespace lampo;
using namespace lampo::test;

namespace {

using Kit = CandidateKit;

} // namespace

class TestHits : public QObject {
    Q_OBJECT
private slots:
    void nearAttacksAreOneHit() {
        // 10 ms apart: one hit, anchored by the higher-ranked guide, cut before the earlier attack.
        const Kit kit({{stroke(10480)}, {stroke(10000)}, {}});
        const auto hits = kit.find().hits;
        QCOMPARE(hits.size(), std::size_t{1});
        QCOMPARE(hits[0].anchor.frame, 10480);
        QCOMPARE(hits[0].first.frame, 10000);
        QCOMPARE(hits[0].last.frame, 10480);
        QCOMPARE(hits[0].voice, Voice::kick);
        QCOMPARE(hits[0].detectedBy, MicSet{3});
    }
    void aWideFlamStaysTwoHits() {
        const Kit kit({{stroke(10000 + 1201)}, {stroke(10000)}, {}}); // just over 25 ms
        QCOMPARE(kit.find().hits.size(), std::size_t{2});
    }
    void rankFollowsTheOrderOfMics() {
        Kit kit({{stroke(10000)}, {stroke(10100)}, {}});
        QCOMPARE(kit.find().hits[0].mic, std::size_t{0});
        kit.session = *edited(kit.session, MoveMic{1, 0});
        std::swap(kit.analyses[0], kit.analyses[1]);
        QCOMPARE(kit.find().hits[0].anchor.frame, 10100);
        QCOMPARE(kit.find().hits[0].voice, Voice::snare);
    }
    /// A stroke 12 dB softer than another there does not lead it, whatever its rank, unless it was put there.
    void aFaintStrokeDoesNotLead() {
        for (const auto& [level, leads] : {std::pair{-11.0, true}, {-13.0, false}}) {
            Kit kit({{stroke(10480, level), stroke(200000), stroke(300000), stroke(400000)},
                     {stroke(10000), stroke(250000), stroke(350000)},
                     {}});
            QCOMPARE(kit.find().hits[0].anchor.frame, leads ? 10480 : 10000);
            QCOMPARE(kit.find().hits[0].detectedBy, MicSet{3});
            Correction lead{Correction::Kind::anchor, 'A', {kit.find().hits[0].anchor}};
            lead.mic = "kick";
            kit.correct(lead);
            QCOMPARE(kit.find().hits[0].anchor.frame, 10480);
        }
    }
    void thresholdsShowAndHide() {
        Kit kit({{stroke(10000), stroke(40000, -25)}, {}, {}});
        QCOMPARE(kit.find().hits.size(), std::size_t{1});
        QCOMPARE(kit.find().judged[0][1].verdict, Verdict::below);
        kit.session = *edited(kit.session, SetThreshold{0, {-30}});
        QCOMPARE(kit.find().hits.size(), std::size_t{2});
    }
    void shortestGap() {
        Kit kit({{stroke(10000), stroke(11440, -3)}, {}, {}}); // 30 ms
        QCOMPARE(kit.find().hits.size(), std::size_t{1});
        QCOMPARE(kit.find().judged[0][1].verdict, Verdict::tooNear);
        kit.session = *edited(kit.session, SetShortestGap{0, {29}});
        QCOMPARE(kit.find().hits.size(), std::size_t{2});
    }
    void aGraceStrokeRidesWithItsMainStroke() {
        const Kit kit({{}, {stroke(10000, -12), stroke(11440, 0)}, {}});
        const auto hits = kit.find().hits;
        QCOMPARE(hits.size(), std::size_t{1});
        QCOMPARE(hits[0].anchor.frame, 11440);
        QCOMPARE(hits[0].first.frame, 10000); // the cut lies before the grace stroke
    }
    void bleedIsLearnedAndNamed() {
        // Kicks are heard in the snare mic 18 dB down and 2 ms late. A ghost note 19 dB down on its own is a hit;
        // the same level together with a kick is bleed; 8 dB more than the bleed is a ghost beside the kick.
        std::vector<Candidate> kicks, snares;
        for (std::int64_t i = 0; i < 10; ++i) {
            kicks.push_back(stroke(100000 + 48000 * i));
            snares.push_back(stroke(100096 + 48000 * i, i == 7 ? -10 : -18));
            snares.push_back(stroke(100000 + 48000 * i + 24000, i == 3 ? -19 : 0));
        }
        const Kit kit({kicks, snares, {}});
        const auto found = kit.find();
        for (std::size_t i = 0; i < snares.size(); ++i) {
            const bool withKick = i % 2 == 0;
            const auto expected = withKick && i != 14 ? Verdict::bleed : Verdict::hit;
            QCOMPARE(found.judged[1][i].verdict, expected);
            if (expected == Verdict::bleed)
                QCOMPARE(found.judged[1][i].bleedFrom, std::size_t{0});
        }
        QCOMPARE(found.hits.size(), std::size_t{20});
    }
    void correctionsHoldAgainstThresholds() {
        Kit kit({{stroke(10000), stroke(60000)}, {}, {}});
        kit.correct({Correction::Kind::remove, 'A', SourceFrame{10050}});
        kit.correct({Correction::Kind::add, 'A', SourceFrame{90000}, {}, Voice::snare});
        QCOMPARE(kit.find().hits.size(), std::size_t{2});
        QVERIFY(kit.find().hits[1].added);
        kit.session = *edited(kit.session, SetThreshold{0, {-60}});
        QCOMPARE(kit.find().hits.size(), std::size_t{2});
        kit.session = *edited(kit.session, SetGuide{0, false});
        const auto found = kit.find(); // the removal has nothing to remove, and says so
        QCOMPARE(found.hits.size(), std::size_t{1});
        QCOMPARE(found.lost.size(), std::size_t{1});
    }
    void orderHoldsForRandomCandidates() {
        std::mt19937 random(4);
        for (int round = 0; round < 200; ++round) {
            std::vector<std::vector<Candidate>> perMic(3);
            for (auto& candidates : perMic) {
                std::int64_t at = 0;
                for (int i = 0; i < 60; ++i) {
                    at += std::uniform_int_distribution<>(600, 9000)(random);
                    candidates.push_back(stroke(at, std::uniform_real_distribution<>(-30, 3)(random)));
                }
            }
            const auto hits = Kit(perMic).find().hits;
            for (std::size_t i = 0; i < hits.size(); ++i) {
                QVERIFY(hits[i].first <= hits[i].anchor && hits[i].anchor <= hits[i].last);
                QVERIFY(i == 0 || hits[i - 1].anchor < hits[i].anchor);
                QVERIFY(i == 0 || hits[i - 1].last < hits[i].first || hits[i - 1].anchor < hits[i].first);
            }
        }
    }
};

QTEST_APPLESS_MAIN(TestHits)
#include "tst_hits.moc"
