#include "edits/edit.h"
#include "hits/song_hit.h"
#include "support/laid.h"
#include "support/plain_song.h"

#include <QtTest>

#include <cmath>
#include <random>

using namespace lampo;
using namespace lampo::test;

namespace {

constexpr SampleRate rate{48000};

Correction sent(std::int64_t at, std::int64_t line) {
    Correction correction{Correction::Kind::line, 'A', SourceFrame{at}};
    correction.moved = FrameCount{line - at};
    return correction;
}

/// Eighths from bar 2 on, each a little off its line.
std::vector<Hit> eighths(std::int64_t count, unsigned seed = 5) {
    std::mt19937 random(seed);
    std::vector<Hit> hits;
    for (std::int64_t i = 0; i < count; ++i)
        hits.push_back(hitAt(96000 + 12000 * i + std::uniform_int_distribution<>(-700, 700)(random)));
    return hits;
}

} // namespace

class TestByHand : public QObject {
    Q_OBJECT
private slots:
    void aSentHitMeansItsLine() {
        const std::vector<Hit> hits = eighths(16);
        const auto before = landed(songOf(), hits);
        QCOMPARE(before[5].at.frame, 96000 + 5 * 12000);
        for (const Assign assign : {Assign::path, Assign::nearest}) {
            Session session = *edited(songOf(), SetAssign{assign});
            const std::int64_t line = 96000 + 5 * 12000 + sixteenth;
            session = *edited(session, Correct{sent(hits[5].anchor.frame, line)});
            const auto landings = landed(session, hits);
            QCOMPARE(landings[5].at.frame, line);
            QCOMPARE(landings[5].state, LandingState::landed); // not doubtful: a user said so
            for (std::size_t i = 0; i < hits.size(); ++i)
                QVERIFY(i == 5 || landings[i].at == before[i].at);
        }
    }
    void aSentHitDrivesItsNeighbourOn() {
        // Sent to the very line of the next hit: two hits never share one, and the sent one stays.
        const std::vector<Hit> hits = eighths(16);
        const Session session = *edited(songOf(), Correct{sent(hits[5].anchor.frame, 96000 + 6 * 12000)});
        const auto landings = landed(session, hits);
        QCOMPARE(landings[5].line->frame.frame, 96000 + 6 * 12000);
        QVERIFY(landings[5].at < landings[6].at);
    }
    void twoSentToOneLineLeaveTheRestAlone() {
        const std::vector<Hit> hits = eighths(16);
        Session session = songOf();
        for (const std::size_t hit : {5, 6})
            session = *edited(session, Correct{sent(hits[hit].anchor.frame, 96000 + 6 * 12000)});
        const auto landings = landed(session, hits);
        for (std::size_t i = 0; i < hits.size(); ++i)
            QVERIFY(i == 5 || i == 6 || landings[i].at.frame == 96000 + 12000 * static_cast<int>(i));
    }
    void phrasesKeepProportionsToTheFrame_data() {
        QTest::addColumn<double>("strength");
        QTest::newRow("full strength") << 100.0;
        QTest::newRow("half strength") << 50.0;
    }
    void phrasesKeepProportionsToTheFrame() {
        QFETCH(double, strength);
        for (unsigned seed = 0; seed < 50; ++seed) {
            const std::vector<Hit> hits = eighths(24, seed);
            Session session = *edited(songOf(), SetStrength{strength});
            const auto alone = landed(session, hits);
            session = *edited(session, MakePhrase{{'A', hits[4].anchor, hits[12].anchor, 0}});
            const auto landings = landed(session, hits);
            const auto place = [](std::int64_t from, std::int64_t at, std::int64_t to) {
                return static_cast<double>(at - from) / static_cast<double>(to - from);
            };
            for (std::size_t i = 0; i < hits.size(); ++i) {
                if (i <= 4 || i >= 12) {
                    QCOMPARE(landings[i].at.frame, alone[i].at.frame);
                    continue;
                }
                const double played = place(hits[4].anchor.frame, hits[i].anchor.frame, hits[12].anchor.frame);
                const double exact = static_cast<double>(landings[4].at.frame) +
                                     played * static_cast<double>((landings[12].at - landings[4].at).frames);
                QVERIFY(std::abs(static_cast<double>(landings[i].at.frame) - exact) <= 0.5 + 1e-6);
            }
        }
    }
    void easedPhrasesGoPartOfTheWay() {
        const std::vector<Hit> hits = eighths(24);
        const auto with = [&](double ease) {
            return landed(*edited(songOf(), MakePhrase{{'A', hits[4].anchor, hits[12].anchor, ease}}), hits);
        };
        const auto alone = landed(songOf(), hits), kept = with(0), half = with(50), all = with(100);
        for (std::size_t i = 4; i <= 12; ++i) {
            QCOMPARE(all[i].at.frame, alone[i].at.frame);
            const auto middle = static_cast<double>(kept[i].at.frame + alone[i].at.frame) / 2;
            QVERIFY(std::abs(static_cast<double>(half[i].at.frame) - middle) <= 0.5);
        }
    }
    void theEndsOfAPhraseLand() {
        // A roll of strokes too near for the grid: its ends go to the nearest lines though they would ride.
        std::vector<Hit> hits{hitAt(90000)};
        for (int i = 0; i < 9; ++i)
            hits.push_back(hitAt(98500 + 2500 * i));
        hits.push_back(hitAt(150300));
        Session session = *edited(songOf(), SetGrid{{1, 4}});
        session = *edited(session, MakePhrase{{'A', hits[1].anchor, hits[9].anchor, 0}});
        const auto landings = landed(session, hits);
        QCOMPARE(landings[1].at.frame, 96000);
        QCOMPARE(landings[9].at.frame, 120000);
        QCOMPARE(landings[5].at.frame, 108000); // evenly played, so in the middle
    }
    void shovedHitsAreQuantizedFromThere() {
        // Half a beat and a little late: by themselves these strokes mean later lines than a shove lets them mean.
        std::vector<Hit> hits;
        for (std::int64_t i = 0; i < 16; ++i)
            hits.push_back(hitAt(96000 + 12000 * i + (i >= 8 ? sixteenth + 200 : 0)));
        const Range<SourceFrame> passage{hits[8].anchor - FrameCount{100}, SourceFrame{1000000}};
        Session session = *edited(songOf(), SetStrength{50});
        session = *edited(session, Shove{{'A', passage, FrameCount{-sixteenth}}});
        const auto landings = landed(session, hits);
        for (std::size_t i = 0; i < hits.size(); ++i) {
            QCOMPARE(landings[i].line->frame.frame, 96000 + 12000 * static_cast<int>(i));
            QCOMPARE(landings[i].at.frame, 96000 + 12000 * static_cast<int>(i) + (i >= 8 ? 100 : 0));
        }
        session = *edited(session, Shove{{'A', passage, {}}});
        QVERIFY(session.shoves.empty());
    }
    void slippedSoundKeepsItsEdges_data() {
        QTest::addColumn<int>("by");
        QTest::newRow("later by 6 ms") << 288;
        QTest::newRow("earlier by 6 ms") << -288; // less than the lead-in of 10 ms
    }
    void slippedSoundKeepsItsEdges() {
        QFETCH(int, by);
        const std::vector<Hit> hits = eighths(16);
        const Range<SourceFrame> passage{hits[5].anchor - FrameCount{100}, hits[8].anchor + FrameCount{100}};
        const Session session = songOf();
        const Session slipped = *edited(session, Slip{{'A', passage, FrameCount{by}}});
        const auto before = landed(session, hits), after = landed(slipped, hits);
        const Plan was = test::planOf(session, hits, before), is = test::planOf(slipped, hits, after);
        for (std::size_t i = 0; i < hits.size(); ++i)
            QCOMPARE((after[i].at - before[i].at).frames, i >= 5 && i <= 8 ? by : 0);
        QCOMPARE(is.segments.size(), was.segments.size());
        for (std::size_t s = 0; s < is.segments.size(); ++s) {
            const bool inside = s >= 6 && s <= 9; // the first segment is what comes before the first hit
            QCOMPARE((is.segments[s].shift - was.segments[s].shift).frames, inside ? by : 0);
            if (s <= 6 || s >= 10)
                QVERIFY(is.segments[s].sounds.begin == was.segments[s].sounds.begin);
        }
    }
    void longSlipsNeverTouchAttacks() {
        for (unsigned seed = 0; seed < 100; ++seed) {
            std::mt19937 random(seed);
            const std::vector<Hit> hits = eighths(16, seed);
            Session session = songOf();
            const FrameCount by{std::uniform_int_distribution<>(-9000, 9000)(random)};
            session = *edited(session, Slip{{'A', {hits[5].anchor, hits[9].anchor}, by}});
            const auto landings = landed(session, hits);
            const Plan plan = test::planOf(session, hits, landings);
            const FrameCount before = toFrames(keptBefore, rate), after = toFrames(keptAfter, rate);
            for (std::size_t i = 0; i < hits.size(); ++i) {
                int whole = 0; // each attack sounds once, unbroken
                for (const Segment& segment : plan.segments)
                    whole += segment.sourceAt(segment.sounds.begin + segment.fadeIn) <= hits[i].anchor - before &&
                             hits[i].anchor + after <= segment.sourceAt(segment.sounds.end - segment.fadeOut);
                QCOMPARE(whole, 1);
                QVERIFY(i == 0 || landings[i - 1].at < landings[i].at);
            }
        }
    }
    void whatWasDoneByHandIsCleared() {
        const std::vector<Hit> hits = eighths(16);
        Session session = songOf();
        const Session untouched = session;
        session = *edited(session, Correct{sent(hits[5].anchor.frame, 150000)});
        session = *edited(session, MakePhrase{{'A', hits[6].anchor, hits[9].anchor, 20}});
        session = *edited(session, Shove{{'A', {hits[3].anchor, hits[12].anchor}, FrameCount{500}}});
        session = *edited(session, Slip{{'A', {hits[3].anchor, hits[12].anchor}, FrameCount{-500}}});
        const Session part = *edited(session, ClearByHand{'A', {hits[5].anchor, hits[8].anchor}});
        QVERIFY(part.corrections.empty() && part.phrases.empty());
        QCOMPARE(part.shoves.size(), std::size_t{2});
        QCOMPARE(movedBy(part.shoves, {'A'}, hits[6].anchor).frames, 0);
        QCOMPARE(movedBy(part.slips, {'A'}, hits[9].anchor).frames, -500);
        QVERIFY(*edited(session, ClearByHand{'A', {SourceFrame{0}, SourceFrame{10000000}}}) == untouched);
        QVERIFY(*edited(session, ClearByHand{'B', {SourceFrame{0}, SourceFrame{10000000}}}) == session);
    }
    void refusals_data() {
        QTest::addColumn<int>("which");
        for (const int which : {0, 1, 2, 3, 4, 5, 6})
            QTest::addRow("%d", which) << which;
    }
    void refusals() {
        QFETCH(int, which);
        const std::vector<Edit> edits{MakePhrase{{'B', SourceFrame{1}, SourceFrame{2}, 0}},
                                      MakePhrase{{'A', SourceFrame{2}, SourceFrame{2}, 0}},
                                      MakePhrase{{'A', SourceFrame{1}, SourceFrame{2}, 101}},
                                      DeletePhrase{0},
                                      Shove{{'A', {SourceFrame{2}, SourceFrame{2}}, FrameCount{1}}},
                                      Slip{{'A', {SourceFrame{1}, SourceFrame{2}}, FrameCount{481000}}},
                                      UseFeel{{}, FeelUse{"no such", 100}}};
        const auto refused = edited(songOf(), edits[static_cast<std::size_t>(which)]);
        QVERIFY(!refused && !refused.error().sentence.empty());
    }
    void beatsAreASectionOfTheirOwn() {
        // Bar 2's last beat is a triplet fill, in a section of eighths.
        Session session = songOf();
        Section verse{"Verse", 2, 4, NoteValue{1, 8}, {}};
        Section fill{"Fill", 2, 1, NoteValue{1, 12}, {}};
        fill.beats = BeatRange{4, 1};
        session = *edited(session, SetSections{{verse, fill}, "sections"});
        std::vector<std::int64_t> lines;
        for (const TargetLine& line :
             targetLines(session, MusicalMap(session.map, rate), {SongFrame{96000}, SongFrame{96000 + 120000}}, {}))
            lines.push_back(line.frame.frame - 96000);
        // Arithmetic: at 120 BPM and 48 kHz an eighth is 12,000 frames, an eighth of a triplet 8,000.
        const std::vector<std::int64_t> expected{0,     12000, 24000, 36000, 48000, 60000,
                                                 72000, 80000, 88000, 96000, 108000};
        QCOMPARE(lines, expected);
        QVERIFY(!edited(session, SetSections{{fill, fill}, "twice"}));
        Section two = fill;
        two.bars = 2;
        QVERIFY(!edited(session, SetSections{{two}, "too long"}));
    }
    void orderHoldsWhateverHandsDo() {
        std::mt19937 random(17);
        const auto whole = [&](std::int64_t low, std::int64_t high) {
            return std::uniform_int_distribution<std::int64_t>(low, high)(random);
        };
        for (int round = 0; round < 300; ++round) {
            Session session = songOf();
            std::vector<Hit> hits;
            for (std::int64_t at = whole(0, 4000); hits.size() < 150; at += whole(round % 2 ? 500 : 3000, 16000))
                hits.push_back(hitAt(at));
            const auto some = [&] { return hits[static_cast<std::size_t>(whole(0, 149))].anchor; };
            for (int i = 0; i < 12; ++i) {
                const SourceFrame a = some(), b = some();
                if (a == b)
                    continue;
                const Range<SourceFrame> range{std::min(a, b), std::max(a, b)};
                const std::vector<Edit> edits{
                    Shove{{'A', range, FrameCount{whole(-9000, 9000)}}},
                    Slip{{'A', range, FrameCount{whole(-9000, 9000)}}},
                    MakePhrase{{'A', range.begin, range.end, static_cast<double>(whole(0, 100))}},
                    Correct{sent(a.frame, a.frame + whole(-9000, 9000))}};
                session = *edited(session, edits[static_cast<std::size_t>(whole(0, 3))]);
            }
            Feel feel = feelOf("lean", 4, std::vector<FeltHit>{{0, 0.1, {}}, {1.5, -0.2, {}}, {3, 0.2, {}}});
            session = *edited(session, KeepFeel{feel});
            session = *edited(session, UseFeel{{}, FeelUse{"lean", static_cast<double>(whole(0, 100))}});
            const auto landings = landed(session, hits);
            for (std::size_t i = 1; i < landings.size(); ++i)
                QVERIFY(landings[i - 1].at < landings[i].at);
        }
    }
};

QTEST_GUILESS_MAIN(TestByHand)
#include "tst_by_hand.moc"
