#include "edits/edit.h"
#include "seams/curve.h"
#include "seams/planner.h"
#include "support/laid.h"

#include <QtTest>

#include <cmath>
#include <random>

using namespace lampo;

namespace {

Session songOf(std::int64_t length) {
    Session session;
    session.mics = {{"kick"}};
    session.takes = {{'A', {}, {{}}, {}, FrameCount{length}}};
    return session;
}

Hit hitAt(std::int64_t at, std::int64_t before = 0, std::int64_t after = 0) {
    return {SourceFrame{at},
            SourceFrame{at - before},
            SourceFrame{at + after},
            MicIndex{0},
            1,
            Voice::kick,
            {0},
            false};
}

Landing landingAt(std::int64_t played, std::int64_t at) {
    Landing landing;
    landing.played = SongFrame{played};
    landing.at = ResultFrame{at};
    return landing;
}

struct Edit {
    Session session;
    std::vector<Hit> hits;
    std::vector<Landing> landings;
    Plan plan;
};

Edit randomEdit(unsigned seed) {
    std::mt19937 random(seed);
    const auto whole = [&](int low, int high) { return std::uniform_int_distribution<>(low, high)(random); };
    Edit edit{songOf(2000000), {}, {}, {}};
    edit.session.seams = {
        {static_cast<double>(whole(0, 30))},
        {static_cast<double>(whole(1, 20))},
        std::array{Fill::open, Fill::stretch, Fill::borrow, Fill::borrow}[static_cast<std::size_t>(whole(0, 3))]};
    edit.session.timing = {{1, whole(0, 1) ? 16 : 8}, static_cast<double>(whole(0, 100))};
    std::int64_t at = whole(0, 3000);
    while (at < 1950000) {
        edit.hits.push_back(hitAt(at, whole(0, 500), whole(0, 500)));
        if (edit.hits.back().first.frame < 0)
            edit.hits.back().first = SourceFrame{0};
        at += whole(whole(0, 3) ? 4000 : 1100, 24000);
    }
    edit.landings = land(edit.session, MusicalMap(edit.session.map, edit.session.rate), {}, edit.hits);
    edit.plan = test::planOf(edit.session, edit.hits, edit.landings);
    return edit;
}

} // namespace

class TestSeams : public QObject {
    Q_OBJECT
private slots:
    /// A take that begins before the song may be cut there: nothing of that is left, and what sounds begins with
    /// it.
    void nothingIsPlannedBeforeTheSong() {
        const auto segment = [](std::int64_t begin, std::int64_t end, std::int64_t in, std::int64_t out) {
            return Segment{{0}, {}, {ResultFrame{begin}, ResultFrame{end}}, FrameCount{in}, FrameCount{out}};
        };
        Plan plan{FrameCount{10000},
                  {segment(0, -480, 0, 288), segment(-768, 300, 288, 200), segment(100, 10000, 200, 0)},
                  {}};
        plan.seams = {{{ResultFrame{-768}, ResultFrame{-480}}}, {{ResultFrame{100}, ResultFrame{300}}}};
        const Segment last = plan.segments.back();
        dropBeforeTheSong(plan);
        QVERIFY((plan.segments == std::vector{segment(0, 300, 0, 200), last}));
        QVERIFY(plan.seams.size() == 1 && plan.seams.front().range.begin == ResultFrame{100});
        // A fade that goes on into the song keeps its rest.
        Plan fading{FrameCount{10000}, {segment(-100, 10000, 288, 0)}, {}};
        dropBeforeTheSong(fading);
        QVERIFY(fading.segments.front() == segment(0, 10000, 188, 0));
    }
    void curves() {
        // Equal power: cos and sin, −3.01 dB in the middle; equal gain: −6.02 dB (textbook).
        const auto middle = matchedGains(0.5, 0);
        QVERIFY(qAbs(20 * std::log10(middle.out) + 3.0103) < 1e-3 && qAbs(middle.out - middle.in) < 1e-6F);
        QVERIFY(qAbs(20 * std::log10(matchedGains(0.5, 1).in) + 6.0206) < 1e-3);
        for (double r = -0.5; r <= 1; r += 0.05)
            for (double along = 0; along <= 1; along += 0.01) {
                const auto [a, b] = matchedGains(along, r);
                // Fink, Holters, Zölzer, DAFx-16: constant power for correlation r (from memory).
                QVERIFY(qAbs(a * a + b * b + 2 * a * b * r - 1) < 1e-5);
            }
        // At r = −0.5 both sides are whole in the middle; what is less alike is faded as that.
        QVERIFY(qAbs(matchedGains(0.5, -0.5).out - 1) < 1e-6F);
        QCOMPARE(matchedGains(0.3, -0.9).in, matchedGains(0.3, -0.5).in);
        QCOMPARE(matchedGains(0, 0.3).out, 1.0F);
        QVERIFY(matchedGains(1, 0.3).out < 1e-6F && qAbs(matchedGains(1, 0.3).in - 1) < 1e-6F);
    }
    void aHoleIsFilledByBorrowing() {
        // The second hit moves 20 ms later. Its slice starts that much earlier, in front of its lead-in.
        const Session session = songOf(96000);
        const std::vector<Hit> hits{hitAt(24000), hitAt(48000)};
        const auto plan =
            test::planOf(session, hits, std::vector{landingAt(24000, 24000), landingAt(48000, 48960)});
        QCOMPARE(plan.seams.front().kind, SeamKind::borrowed);
        // lead-in 10 ms = 480, fade 6 ms = 288, hole 960
        QCOMPARE(plan.seams.front().range.end.frame, 48960 - 960 - 480);
        QCOMPARE(plan.seams.front().range.length().frames, 288);
    }
    void anOverlapGivesWayBeforeTheLeadIn() {
        const Session session = songOf(96000);
        const std::vector<Hit> hits{hitAt(24000), hitAt(48000)};
        const auto plan =
            test::planOf(session, hits, std::vector{landingAt(24000, 24000), landingAt(48000, 47040)});
        QCOMPARE(plan.seams.front().kind, SeamKind::crossfade);
        QCOMPARE(plan.seams.front().range.end.frame, 47040 - 480);
    }
    void openHolesStayOpen() {
        const Session session = *edited(songOf(96000), SetFill{Fill::open});
        const std::vector<Hit> hits{hitAt(24000), hitAt(48000)};
        const auto plan =
            test::planOf(session, hits, std::vector{landingAt(24000, 24000), landingAt(48000, 48960)});
        QCOMPARE(plan.segments[1].sounds.end.frame, 48000 - 480);
        QCOMPARE(plan.segments[2].sounds.begin.frame, 48960 - 480);
    }
    void nothingMovedIsNothingJoined() {
        const std::vector<Hit> hits{hitAt(24000), hitAt(48000)};
        const auto plan =
            test::planOf(songOf(96000), hits, std::vector{landingAt(24000, 24000), landingAt(48000, 48000)});
        QVERIFY(plan.seams.empty());
        QCOMPARE(plan.segments.size(), std::size_t{3}); // the cuts are there all the same
    }
    void everyPlanHoldsItsPromises_data() {
        QTest::addColumn<unsigned>("seed");
        for (unsigned seed = 1; seed <= 60; ++seed)
            QTest::addRow("seed %u", seed) << seed;
    }
    void everyPlanHoldsItsPromises() {
        QFETCH(unsigned, seed);
        const auto [session, hits, landings, plan] = randomEdit(seed);
        const bool mayBeOpen = session.seams.fill == Fill::open;
        QCOMPARE(plan.segments.front().sounds.begin.frame, 0);
        QCOMPARE(plan.segments.back().sounds.end.frame, 2000000);
        for (std::size_t i = 0; i < plan.segments.size(); ++i) {
            const Segment& s = plan.segments[i];
            QVERIFY(!s.sounds.empty());
            QVERIFY(s.fadeIn + s.fadeOut <= s.sounds.length());
            if (i == 0)
                continue;
            const FrameCount overlap = plan.segments[i - 1].sounds.end - s.sounds.begin;
            QVERIFY(overlap >= FrameCount{0} || mayBeOpen);
            if (overlap > FrameCount{0})
                QVERIFY(overlap == s.fadeIn && overlap == plan.segments[i - 1].fadeOut);
            if (i >= 2)
                QVERIFY(plan.segments[i - 2].sounds.end <= s.sounds.begin);
        }
        // From 1 ms before to 15 ms after each attack: in one segment, outside its fades, with the hit's own move;
        // and no other segment holds any of it.
        for (std::size_t i = 0; i < hits.size(); ++i) {
            for (const SourceFrame attack : {hits[i].first, hits[i].anchor, hits[i].last}) {
                const Range<SourceFrame> kept{std::max(SourceFrame{0}, attack - FrameCount{48}),
                                              attack + FrameCount{720}};
                int holders = 0;
                for (const Segment& s : plan.segments) {
                    const Range<SourceFrame> source{s.sourceAt(s.sounds.begin), s.sourceAt(s.sounds.end)};
                    if (source.intersected(kept).empty())
                        continue;
                    ++holders;
                    QCOMPARE(s.shift.by.frames, landings[i].move().frames);
                    QVERIFY(source.begin + s.fadeIn <= kept.begin && kept.end <= source.end - s.fadeOut);
                }
                QCOMPARE(holders, 1);
            }
        }
    }
};

QTEST_APPLESS_MAIN(TestSeams)
#include "tst_seams.moc"
