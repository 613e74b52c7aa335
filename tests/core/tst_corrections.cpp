#include "pipeline/outcome.h"
#include "support/candidate_kit.h"

#include <QtTest>

#include <random>

using namespace lampo;
using namespace lampo::test;

namespace {

using Kit = CandidateKit;

Correction about(Correction::Kind kind, std::int64_t at) {
    return {kind, 'A', SourceFrame{at}};
}

} // namespace

/// What users say about hits, and that it holds.
class TestCorrections : public QObject {
    Q_OBJECT
private slots:
    void aHiddenCandidateIsTakenIn() {
        Kit kit({{stroke(10000)}, {stroke(30000, -40), stroke(60000)}, {}});
        Correction take = about(Correction::Kind::add, 30000);
        take.mic = "snare";
        take.voice = Voice::snare;
        kit.correct(take);
        const auto found = kit.find();
        QCOMPARE(found.hits.size(), std::size_t{3});
        QVERIFY(std::abs(found.hits[1].level.value + 40) < 1e-4); // what it was heard as
        QCOMPARE(found.hits[1].detectedBy, onlyMic(MicIndex{1}));
        QVERIFY(found.hits[1].added && found.judged[1][0].verdict == Verdict::hit);
        kit.edit(SetThreshold{1, {-50}}); // now it is found anyway, and stays one hit
        QCOMPARE(kit.find().hits.size(), std::size_t{3});
        QVERIFY(kit.find().lost.empty());
    }
    /// It is a time: at every rate a correction 9 ms off still speaks of its hit, one 11 ms off does not.
    void howFarACorrectionReaches() {
        for (const int rate : {44100, 48000, 96000})
            for (const int ms : {-11, -9, 9, 11}) {
                Kit kit({{stroke(2 * rate)}, {}, {}});
                kit.session.rate = {rate};
                kit.session.corrections.push_back(about(Correction::Kind::drum, 2 * rate + ms * rate / 1000));
                QCOMPARE(kit.find().lost.empty(), std::abs(ms) < 10);
                // And the next said of the same hit takes its place, or stands beside it.
                kit.correct(about(Correction::Kind::drum, 2 * rate));
                QCOMPARE(kit.session.corrections.size(), std::abs(ms) < 10 ? std::size_t{1} : std::size_t{2});
            }
    }
    void anAddedStrokeJoinsWhatIsStruckWithIt() {
        Kit kit({{stroke(10000)}, {stroke(10200, -50)}, {}});
        Correction take = about(Correction::Kind::add, 10200);
        take.mic = "snare";
        kit.correct(take);
        const auto hits = kit.find().hits;
        QCOMPARE(hits.size(), std::size_t{1});
        QCOMPARE(hits[0].detectedBy, MicSet{3});
        QCOMPARE(hits[0].last.frame, std::int64_t{10200});
    }
    void removingAnAddedHitTakesTheAdditionBack() {
        Kit kit({{stroke(10000)}, {}, {}});
        kit.correct(about(Correction::Kind::add, 40000));
        kit.correct({Correction::Kind::pin, 'A', SourceFrame{40000}});
        QCOMPARE(kit.find().hits.size(), std::size_t{2});
        kit.correct(about(Correction::Kind::remove, 40000));
        QCOMPARE(kit.find().hits.size(), std::size_t{1});
        QVERIFY(kit.session.corrections.empty() && kit.find().lost.empty());
    }
    void severalAspectsOfOneHitStandSideBySide() {
        Kit kit({{stroke(10000)}, {}, {}});
        Correction mark = about(Correction::Kind::mark, 10000);
        mark.to = SourceFrame{9900};
        Correction drum = about(Correction::Kind::drum, 10000);
        drum.voice = Voice::tom;
        kit.correct(mark);
        kit.correct(drum);
        kit.correct(about(Correction::Kind::pin, 10000));
        QCOMPARE(kit.session.corrections.size(), std::size_t{3});
        const Hit hit = kit.find().hits[0];
        QCOMPARE(hit.anchor.frame, std::int64_t{9900});
        QCOMPARE(hit.found().frame, std::int64_t{10000});
        QCOMPARE(hit.voice, Voice::tom);
        const auto landings = land(kit.session, MusicalMap(kit.session.map, kit.session.rate), {}, kit.find().hits);
        QVERIFY(landings[0].state == LandingState::pinned); // the pin speaks of where it was found
        mark.to = SourceFrame{9950};                        // said again: the last one counts
        kit.correct(mark);
        QCOMPARE(kit.session.corrections.size(), std::size_t{3});
        QCOMPARE(kit.find().hits[0].anchor.frame, std::int64_t{9950});
    }
    void aStartStaysBetweenItsNeighbours() {
        Kit kit({{stroke(10000), stroke(20000), stroke(30000)}, {}, {}});
        Correction mark = about(Correction::Kind::mark, 20000);
        for (const std::int64_t to : {-5000, 9000, 45000}) {
            mark.to = SourceFrame{to};
            kit.correct(mark);
            const auto hits = kit.find().hits;
            QVERIFY(hits[0].last < hits[1].first && hits[1].last < hits[2].first);
        }
    }
    void splitJoinAndAnchor() {
        Kit kit({{stroke(10000), stroke(50000)}, {stroke(10300), stroke(51200)}, {}});
        kit.edit(SetClusters{{{15}, Anchor::rank}});
        kit.correct(about(Correction::Kind::split, 10000));
        auto hits = kit.find().hits;
        QCOMPARE(hits.size(), std::size_t{4});
        QCOMPARE(hits[1].voice, Voice::snare);
        Correction join = about(Correction::Kind::join, 50000);
        join.to = SourceFrame{51200};
        kit.correct(join);
        hits = kit.find().hits;
        QCOMPARE(hits.size(), std::size_t{3});
        QCOMPARE(hits[2].detectedBy, MicSet{3});
        QCOMPARE(hits[2].first.frame, std::int64_t{50000});
        QCOMPARE(hits[2].last.frame, std::int64_t{51200});
        Correction anchor = about(Correction::Kind::anchor, 50000);
        anchor.mic = "snare";
        kit.correct(anchor);
        hits = kit.find().hits;
        QCOMPARE(hits[2].anchor.frame, std::int64_t{51200});
        QCOMPARE(hits[2].found().frame, std::int64_t{50000});
        kit.edit(DeleteCorrections{{{'A', SourceFrame{50000}}, {'A', SourceFrame{10000}}}});
        QCOMPARE(kit.find().hits.size(), std::size_t{3}); // 50000 and 51200 are 25 ms apart: two again
    }
    void aCutWithoutAnAttackMovesWithItsNeighbours() {
        Kit kit({{stroke(24200), stroke(48300)}, {}, {}});
        kit.correct(about(Correction::Kind::cut, 36000));
        const auto hits = kit.find().hits;
        QCOMPARE(hits.size(), std::size_t{3});
        QVERIFY(hits[1].bare);
        const auto landings = land(kit.session, MusicalMap(kit.session.map, kit.session.rate), {}, hits);
        QVERIFY(landings[1].state == LandingState::left && !landings[1].line);
        QVERIFY(std::abs((landings[1].at.frame - 36000) + 250) <= 10); // between −200 and −300
    }
    void sectionsHearInTheirOwnWay() {
        // Bars of 96,000 frames; the second bar is a section.
        Kit kit({{stroke(10000, -30), stroke(100000, -30), stroke(200000, -30), stroke(900000), stroke(960000)},
                 {},
                 {}});
        kit.session.sections = {{"Cove", 2, 1, {}, {}}};
        QCOMPARE(kit.find().hits.size(), std::size_t{2}); // the strong ones at the end
        kit.edit(SetSectionDetection{0, {"kick", Decibels{-35}, {}, {}}});
        const auto found = kit.find();
        QCOMPARE(found.hits.size(), std::size_t{3});
        QCOMPARE(found.hits[0].anchor.frame, std::int64_t{100000});
        QVERIFY(std::abs(found.judged[0][1].above.value - 5) < 1e-4);
        kit.edit(SetSectionDetection{0, {"kick", {}, {}, {}}});
        QVERIFY(kit.session.sections[0].detection.empty());
    }
    void bleedJudgingCanBeSwitchedOff() {
        std::vector<Candidate> kicks, snares;
        for (std::int64_t i = 0; i < 10; ++i) {
            kicks.push_back(stroke(100000 + 48000 * i));
            snares.push_back(stroke(100900 + 48000 * i - 804, -15)); // 2 ms late
        }
        Kit kit({kicks, snares, {}});
        const auto countSnares = [&] {
            const auto hits = kit.find().hits;
            return std::count_if(hits.begin(), hits.end(),
                                 [](const Hit& h) { return (h.detectedBy & onlyMic(MicIndex{1})) != 0; });
        };
        QCOMPARE(countSnares(), 0);
        kit.edit(SetBleedJudging{1, false});
        QCOMPARE(countSnares(), 10);
    }
    void theBleedMatrixKnowsLevelAndDelay() {
        // The tom mic hears the kick louder than its own few strokes are by its own measure: still bleed.
        std::vector<Candidate> kicks, snares, toms;
        for (std::int64_t i = 0; i < 40; ++i) {
            kicks.push_back(stroke(100000 + 24000 * i));
            snares.push_back(stroke(100144 + 24000 * i, -18)); // 3 ms
            toms.push_back(stroke(100072 + 24000 * i, -4));    // 1.5 ms
        }
        const Kit kit({kicks, snares, toms});
        const auto strokes = kit.strokes();
        const auto lossTo = [&](std::size_t mic) {
            return lossOf(strokes.paths.at(0, mic), strokes.drums[0]).value;
        };
        QVERIFY(std::abs(lossTo(1) + 18) < 0.01);
        QVERIFY(std::abs(strokes.paths.at(0, 1).late.value - 3) < 0.01);
        QVERIFY(std::abs(lossTo(2) + 4) < 0.01);
        QVERIFY(std::abs(strokes.paths.at(0, 2).late.value - 1.5) < 0.01);
        QVERIFY(strokes.isIdle({1}) && strokes.isIdle({2})); // nothing of their own was ever heard
        QCOMPARE(kit.find().hits.size(), std::size_t{40});
    }
    void aHatOnEveryOtherKickDoesNotExplainKicks() {
        std::vector<Candidate> kicks, hats;
        for (std::int64_t i = 0; i < 80; ++i) {
            hats.push_back(stroke(100000 + 12000 * i, 1)); // louder by its own measure
            if (i % 2 == 0)
                kicks.push_back(stroke(100010 + 12000 * i));
        }
        Kit kit({kicks, {}, hats}); // the tom's mic stands in for the hat's
        const auto found = kit.find();
        for (const JudgedCandidate& judged : found.judged[0])
            QVERIFY(judged.verdict == Verdict::hit);
        QCOMPARE(found.hits.size(), std::size_t{80});
    }
    void theFinestNoteThinsCuts() {
        // Eighths are 12,000 frames apart; 30 ms are 1,440.
        Kit kit({{stroke(12100), stroke(18000), stroke(24000 - 1441), stroke(36000 + 1440)}, {}, {}});
        QCOMPARE(kit.find().hits.size(), std::size_t{4});
        kit.edit(SetFinest{{}, Finest{{1, 8}, {30}}});
        auto found = kit.find();
        QCOMPARE(found.hits.size(), std::size_t{2});
        QCOMPARE(found.judged[0][1].verdict, Verdict::tooFine);
        QCOMPARE(found.judged[0][2].verdict, Verdict::tooFine);
        Correction add = about(Correction::Kind::add, 18000); // what the user wants stays
        add.mic = "kick";
        kit.correct(add);
        QCOMPARE(kit.find().hits.size(), std::size_t{3});
    }
    void nothingIsLostSilently() {
        // Whatever is said and set: every correction is obeyed, or listed.
        std::mt19937 random(12);
        const auto whole = [&](int low, int high) { return std::uniform_int_distribution<>(low, high)(random); };
        for (int round = 0; round < 300; ++round) {
            std::vector<std::vector<Candidate>> perMic(3);
            for (auto& candidates : perMic)
                for (std::int64_t at = 3000; at < 300000; at += whole(1000, 20000))
                    candidates.push_back(stroke(at, -whole(0, 30)));
            Kit kit(perMic);
            for (int i = 0; i < 12; ++i) {
                const auto hits = kit.find().hits;
                Correction correction{static_cast<Correction::Kind>(whole(0, correctionKinds - 1)), 'A', {}};
                correction.at =
                    hits.empty() || whole(0, 4) == 0
                        ? SourceFrame{whole(0, 300000)}
                        : hits[static_cast<std::size_t>(whole(0, static_cast<int>(hits.size()) - 1))].found();
                correction.to = correction.at + FrameCount{whole(-3000, 3000)};
                correction.mic = kit.session.mics[static_cast<std::size_t>(whole(0, 2))].stem;
                kit.correct(correction);
            }
            kit.edit(SetThreshold{static_cast<std::size_t>(whole(0, 2)), {static_cast<double>(-whole(0, 40))}});
            const auto found = kit.find();
            for (std::size_t i = 1; i < found.hits.size(); ++i)
                QVERIFY(found.hits[i - 1].anchor <= found.hits[i].anchor);
            for (const Hit& hit : found.hits)
                QVERIFY(hit.first <= hit.anchor);
            for (const Correction& correction : kit.session.corrections) {
                if (correction.kind != Correction::Kind::pin && correction.kind != Correction::Kind::place)
                    continue;
                const bool spoken = std::any_of(found.hits.begin(), found.hits.end(), [&](const Hit& hit) {
                    return std::abs((hit.found() - correction.at).frames) <=
                           correctionTolerance(kit.session.rate).frames;
                });
                const bool listed = std::find(found.lost.begin(), found.lost.end(), correction) != found.lost.end();
                QVERIFY(spoken || listed);
            }
        }
    }
};

QTEST_APPLESS_MAIN(TestCorrections)
#include "tst_corrections.moc"
