#include "session/pieces.h"
#include "support/laid.h"
#include "support/takes_rig.h"

#include <QtTest>

#include <map>
#include <set>

using namespace lampo;
using namespace lampo::test;

namespace {

constexpr std::int64_t keptBeforeFrames = 48;
constexpr std::int64_t keptAfterFrames = 720;

/// The same comp painted frame by frame, the naive way: which take sounds, and from where.
struct Painted {
    struct Frame {
        int take = 0; ///< −1: silence
        std::int64_t shift = 0;
        bool operator==(const Frame&) const = default;
    };
    std::vector<Frame> frames;

    explicit Painted(std::int64_t length) : frames(static_cast<std::size_t>(length)) {}
    void lay(std::int64_t begin, std::int64_t end, int take, std::optional<std::int64_t> graft,
             const std::vector<std::optional<std::int64_t>>& own) {
        for (std::int64_t i = begin; i < std::min<std::int64_t>(end, std::ssize(frames)); ++i) {
            const auto shift = graft ? graft : own[static_cast<std::size_t>(i)];
            frames[static_cast<std::size_t>(i)] = take < 0 || !shift ? Frame{-1, 0} : Frame{take, *shift};
        }
    }
    /// Places where what sounds changes.
    std::vector<std::int64_t> borders() const {
        std::vector<std::int64_t> found;
        for (std::size_t i = 1; i < frames.size(); ++i)
            if (frames[i] != frames[i - 1])
                found.push_back(static_cast<std::int64_t>(i));
        return found;
    }
};

QString inWords(const std::vector<std::int64_t>& places) {
    QStringList words;
    for (const std::int64_t place : places)
        words << QString::number(place);
    return words.join(' ');
}

} // namespace

class TestComp : public QObject {
    Q_OBJECT

    /// Every attack of every take either sounds whole, once for each time it was chosen, or not at all.
    static void checkAttacks(const TakesRig& rig, const Outcome& outcome,
                             const std::vector<std::optional<TakesRig::Traced>>& traced) {
        std::map<std::pair<std::size_t, std::int64_t>, int> chosen;
        for (std::size_t i = 0; i < outcome.hits.size(); ++i) {
            const SongHit& hit = outcome.hits[i];
            ++chosen[{hit.take, hit.anchor.frame}];
            for (std::int64_t k = -keptBeforeFrames; k < keptAfterFrames; ++k) {
                const std::int64_t at = outcome.landings[i].at.frame + k;
                if (at < 0 || at >= std::ssize(traced))
                    continue;
                const TakesRig::Traced meant{hit.take, hit.anchor.frame + k};
                if (traced[static_cast<std::size_t>(at)] != meant)
                    QFAIL(
                        qPrintable(QStringLiteral("hit %1 is broken at %2%3").arg(i).arg(k < 0 ? "" : "+").arg(k)));
            }
        }
        std::map<std::pair<std::size_t, std::int64_t>, int> touched;
        for (const Segment& segment : outcome.plan->segments)
            for (const auto& stroke : rig.played[segment.take]) {
                const std::int64_t from = segment.sourceAt(segment.sounds.begin).frame;
                const std::int64_t to = segment.sourceAt(segment.sounds.end).frame;
                const bool cutBySongZero = segment.sounds.begin.frame == 0 && stroke.at - keptBeforeFrames < from;
                if (stroke.at - keptBeforeFrames < to && stroke.at + keptAfterFrames > from && !cutBySongZero)
                    ++touched[{segment.take, stroke.at}];
            }
        if (touched != chosen)
            for (const auto& [stroke, times] : touched)
                if (chosen[stroke] != times)
                    QFAIL(
                        qPrintable(QStringLiteral("the stroke at %1 of take %2 is chosen %3 times and sounds in %4")
                                       .arg(stroke.second)
                                       .arg(stroke.first)
                                       .arg(chosen[stroke])
                                       .arg(times)));
    }

    /// Far from borders every frame is what was painted; returns how far from its border each seam came to lie.
    static void checkTakes(const Painted& painted, const Outcome& outcome,
                           const std::vector<std::optional<TakesRig::Traced>>& traced, std::int64_t near,
                           std::int64_t farthestMove) {
        const auto inSeam = insideSeams(*outcome.plan);
        std::vector<bool> nearBorder(traced.size());
        for (const std::int64_t border : painted.borders())
            for (std::int64_t i = std::max<std::int64_t>(0, border - near);
                 i < std::min<std::int64_t>(border + near, std::ssize(traced)); ++i)
                nearBorder[static_cast<std::size_t>(i)] = true;
        QCOMPARE(traced.size(), painted.frames.size());
        for (std::size_t i = 0; i < traced.size(); ++i) {
            if (nearBorder[i] || inSeam[i])
                continue;
            const Painted::Frame& meant = painted.frames[i];
            const std::int64_t source = static_cast<std::int64_t>(i) - meant.shift;
            if (source < farthestMove || source > std::ssize(traced) - farthestMove)
                continue; // around the ends of the files, where a graft may be silent
            if (meant.take < 0) {
                QVERIFY(!traced[i] || traced[i]->source == 0);
                continue;
            }
            if (!traced[i] || traced[i]->take != static_cast<std::size_t>(meant.take))
                QFAIL(qPrintable(QStringLiteral("frame %1 is not take %2; borders at %3")
                                     .arg(i)
                                     .arg(meant.take)
                                     .arg(inWords(painted.borders()))));
            QVERIFY(std::abs(source - traced[i]->source) <= farthestMove);
        }
    }

private slots:
    void layingIsAsPaintingFrameByFrame() {
        std::mt19937 random(3);
        const auto whole = [&](int low, int high) { return std::uniform_int_distribution<>(low, high)(random); };
        for (int round = 0; round < 200; ++round) {
            Comp comp;
            std::vector<Painted::Frame> painted(1000);
            for (int step = 0; step < 12; ++step) {
                const int begin = whole(0, 999);
                const int end = begin + whole(1, 400);
                const int take = whole(-1, 2);
                const int graft = take >= 0 && whole(0, 2) == 0 ? whole(1, 50) : 0;
                comp = laid(comp, {SongFrame{begin}, SongFrame{end}},
                            take < 0 ? std::nullopt : std::optional(TakeIndex{static_cast<std::size_t>(take)}),
                            graft != 0 ? std::optional(FrameCount{graft}) : std::nullopt, SongFrame{1000});
                for (int i = begin; i < std::min(end, 1000); ++i)
                    painted[static_cast<std::size_t>(i)] = {take, graft};
            }
            for (int i = 0; i < 1000; ++i) {
                const Passage& passage = comp.passages[comp.at(SongFrame{i})];
                const Painted::Frame& meant = painted[static_cast<std::size_t>(i)];
                QCOMPARE(passage.take ? static_cast<int>(*passage.take) : -1, meant.take);
                QCOMPARE(passage.graft.value_or(FrameCount{0}).frames, meant.shift);
            }
            for (std::size_t p = 1; p < comp.passages.size(); ++p)
                QVERIFY(!comp.passages[p].sameSound(comp.passages[p - 1]));
        }
    }
    void everySampleComesFromTheTakeTheCompSays_data() {
        QTest::addColumn<int>("seed");
        for (int seed = 0; seed < 60; ++seed)
            QTest::newRow(qPrintable(QStringLiteral("session %1").arg(seed))) << seed;
    }
    void everySampleComesFromTheTakeTheCompSays() {
        QFETCH(int, seed);
        TakesRig rig(static_cast<unsigned>(seed), seed % 3 == 0 ? 0.8 : 0.4, 4);
        std::mt19937 random(static_cast<unsigned>(seed));
        const auto whole = [&](int low, int high) { return std::uniform_int_distribution<>(low, high)(random); };
        const double strength = seed % 4 == 1 ? whole(0, 99) : 100;
        QVERIFY(rig.edit(SetStrength{strength}));
        QVERIFY(rig.edit(SetFade{{static_cast<double>(whole(1, 20))}}));
        QVERIFY(rig.edit(SetLeadIn{{static_cast<double>(whole(0, 15))}}));
        std::vector<std::optional<std::int64_t>> own(static_cast<std::size_t>(rig.session.length().frames), 0);
        Painted painted(rig.session.length().frames);
        for (int step = whole(1, 8); step > 0; --step) {
            // On beats mostly, anywhere sometimes; now and then from elsewhere in the song, whole beats away.
            const std::int64_t unit = whole(0, 4) ? 4 * TakesRig::sixteenth : 1;
            const std::int64_t begin = whole(0, static_cast<int>(10 * TakesRig::bar / unit)) * unit;
            const std::int64_t end = begin + whole(1, 12) * 4 * TakesRig::sixteenth;
            const int take = whole(0, 9) ? whole(0, 2) : -1;
            const auto graft = take >= 0 && whole(0, 3) == 0
                                   ? std::optional<std::int64_t>(whole(-8, 8) * 4 * TakesRig::sixteenth)
                                   : std::nullopt;
            QVERIFY(rig.edit(Lay{{SongFrame{begin}, SongFrame{end}},
                                 take < 0 ? std::nullopt : std::optional(TakeIndex{static_cast<std::size_t>(take)}),
                                 graft ? std::optional(FrameCount{*graft}) : std::nullopt}));
            painted.lay(begin, end, take, graft, own);
        }
        const auto outcome = rig.outcome();
        const auto traced = rig.trace(*outcome->plan);
        checkAttacks(rig, *outcome, traced);
        checkTakes(painted, *outcome, traced, TakesRig::sixteenth * 2, TakesRig::sixteenth);
        if (strength == 100)
            checkLines(rig, painted, *outcome);
    }

private:
    /// With everything on its line, each line that the take sounding there plays is heard once, to the sample.
    static void checkLines(const TakesRig& rig, const Painted& painted, const Outcome& outcome) {
        std::map<std::int64_t, int> heard; // song line -> how often
        for (std::size_t i = 0; i < outcome.hits.size(); ++i)
            if (outcome.landings[i].state == LandingState::landed ||
                outcome.landings[i].state == LandingState::doubtful) {
                QCOMPARE(outcome.landings[i].at.frame % TakesRig::sixteenth, std::int64_t{0});
                ++heard[outcome.landings[i].at.frame / TakesRig::sixteenth];
            }
        int meantLines = 0, missing = 0;
        for (std::int64_t line = 1; line < (TakesRig::bars - 1) * 16; ++line) {
            const Painted::Frame& frame = painted.frames[static_cast<std::size_t>(line * TakesRig::sixteenth)];
            if (frame.take < 0)
                continue;
            const std::int64_t own = line - frame.shift / TakesRig::sixteenth; // grafts lie whole beats away
            const auto& strokes = rig.played[static_cast<std::size_t>(frame.take)];
            const bool meant =
                std::any_of(strokes.begin(), strokes.end(), [&](const auto& stroke) { return stroke.line == own; });
            meantLines += meant;
            missing += meant && !heard.contains(line);
            QVERIFY2(heard[line] <= 1, "a line is heard twice");
        }
        // A stroke may be doubted or a border may find no quiet place, but rarely.
        QVERIFY2(missing * 50 <= meantLines, qPrintable(QStringLiteral("%1 of %2").arg(missing).arg(meantLines)));
    }

private slots:
    void swappedAndSwappedBackIsTheSame() {
        for (unsigned seed = 0; seed < 20; ++seed) {
            TakesRig rig(seed);
            QVERIFY(rig.edit(Lay{TakesRig::barsOf(3, 6), TakeIndex{1}}));
            QVERIFY(rig.edit(SetBorderFade{TakesRig::barsOf(3, 6).begin, Milliseconds{40}}));
            const Session before = rig.session;
            const auto first = rig.outcome();
            QVERIFY(rig.edit(Lay{TakesRig::barsOf(2, 9), TakeIndex{2}}));
            auto swapped = rig.outcome(first.get());
            QVERIFY(swapped->plan->segments != first->plan->segments);
            QVERIFY(rig.edit(Lay{TakesRig::barsOf(2, 9), TakeIndex{0}}));
            QVERIFY(rig.edit(Lay{TakesRig::barsOf(3, 6), TakeIndex{1}}));
            QVERIFY(rig.session == before);
            const auto back = rig.outcome(swapped.get());
            QVERIFY(*back->plan == *first->plan);
            QVERIFY(rig.trace(*back->plan) == rig.trace(*first->plan));
        }
    }
    void whatIsTakenOverIsWhatWouldBeComputed() {
        // Any sequence of edits: the outcome that builds on the one before is the one made from nothing.
        TakesRig rig(5);
        std::mt19937 random(9);
        const auto whole = [&](int low, int high) { return std::uniform_int_distribution<>(low, high)(random); };
        std::shared_ptr<const Outcome> last;
        for (int step = 0; step < 200; ++step) {
            const Edit edits[]{
                Lay{TakesRig::barsOf(whole(1, 6), whole(7, 12)), TakeIndex{static_cast<std::size_t>(whole(0, 2))}},
                Lay{TakesRig::barsOf(whole(1, 6), 7), TakeIndex{1}, FrameCount{whole(-3, 3) * TakesRig::bar}},
                SetStrength{static_cast<double>(whole(0, 100))},
                SetThreshold{0, {static_cast<double>(whole(-40, 0))}},
                SetTakeStart{static_cast<std::size_t>(whole(0, 2)), FrameCount{whole(-500, 500)}},
                Correct{
                    {Correction::Kind::pin, static_cast<char>('A' + whole(0, 2)), SourceFrame{whole(0, 900000)}}},
                RepeatBars{whole(1, 9), 1},
                DeleteBars{whole(1, 9), 1},
                SetTempo{{static_cast<double>(whole(118, 122))}},
                SetMute{0, whole(0, 1) == 1},
                MoveMic{0, 1}};
            if (!rig.edit(edits[whole(0, static_cast<int>(std::size(edits)) - 1)]))
                continue;
            const auto fresh = rig.outcome();
            last = rig.outcome(last.get());
            QVERIFY(last->hits == fresh->hits);
            QVERIFY(*last->plan == *fresh->plan);
            QCOMPARE(last->warnings.size(), fresh->warnings.size());
        }
    }
    void correctionsWaitForTheirTake() {
        TakesRig rig(2);
        const auto first = rig.outcome();
        const SongHit& hit = first->hits[40];
        QVERIFY(rig.edit(Correct{landedAt(rig.session, hit, first->landings[40].at + FrameCount{333})}));
        const auto placed = rig.outcome();
        QCOMPARE((placed->landings[40].at - first->landings[40].at).frames, std::int64_t{333});
        const int bar = static_cast<int>(first->landings[40].at.frame / TakesRig::bar) + 1;
        QVERIFY(rig.edit(Lay{TakesRig::barsOf(bar, bar + 1), TakeIndex{1}}));
        const auto away = rig.outcome(placed.get());
        QVERIFY(*away->plan != *placed->plan);
        QVERIFY(away->lost.empty());
        QVERIFY(rig.edit(Lay{TakesRig::barsOf(bar, bar + 1), TakeIndex{0}}));
        QVERIFY(*rig.outcome(away.get())->plan == *placed->plan);
    }
    void aGraftsCorrectionMovesWithIt() {
        TakesRig rig(2);
        QVERIFY(
            rig.edit(Lay{TakesRig::barsOf(8, 9), TakeIndex{0}, FrameCount{4 * TakesRig::bar}})); // bar 4 once more
        const auto first = rig.outcome();
        const auto inBar = [&](std::int64_t bar) {
            std::vector<std::size_t> found;
            for (std::size_t i = 0; i < first->hits.size(); ++i)
                if (first->landings[i].meant.frame / TakesRig::bar == bar - 1)
                    found.push_back(i);
            return found;
        };
        QCOMPARE(inBar(8).size(), inBar(4).size());
        const SongHit& hit = first->hits[inBar(8)[2]];
        QCOMPARE(hit.found(), first->hits[inBar(4)[2]].found());
        QVERIFY(rig.edit(Correct{landedAt(rig.session, hit, first->landings[inBar(8)[2]].at + FrameCount{200})}));
        const auto after = rig.outcome();
        for (const std::int64_t bar : {4, 8})
            QCOMPARE((after->landings[inBar(bar)[2]].at - first->landings[inBar(bar)[2]].at).frames,
                     std::int64_t{200});
    }
    void asPlayedTheTakesAreNotMoved() {
        TakesRig rig(4);
        QVERIFY(rig.edit(Lay{TakesRig::barsOf(3, 6), TakeIndex{1}}));
        QVERIFY(rig.edit(Lay{TakesRig::barsOf(7, 8), TakeIndex{2}, FrameCount{2 * TakesRig::bar}}));
        const auto plan = playedPlan(rig.session, *rig.outcome());
        for (const Segment& segment : plan->segments)
            QVERIFY(segment.shift.by.frames == 0 ||
                    (segment.take == 2 && segment.shift.by.frames == 2 * TakesRig::bar));
        QCOMPARE(std::count_if(plan->seams.begin(), plan->seams.end(),
                               [](const Seam& seam) { return seam.kind == SeamKind::border; }),
                 std::ptrdiff_t{4});
    }
    void aTakeThatBeginsEarlierIsCutAtTheSongsZero() {
        TakesRig rig(6);
        QVERIFY(rig.edit(SetTakeStart{0, FrameCount{-TakesRig::bar}}));
        const auto outcome = rig.outcome();
        QVERIFY(outcome->landings.front().at.frame >= 0);
        checkAttacksAfterZero(rig, *outcome);
        QCOMPARE(outcome->plan->length.frames, (TakesRig::bars)*TakesRig::bar);
    }

private:
    static void checkAttacksAfterZero(const TakesRig& rig, const Outcome& outcome) {
        const auto traced = rig.trace(*outcome.plan);
        for (std::size_t i = 0; i < outcome.hits.size(); ++i)
            QCOMPARE(traced[static_cast<std::size_t>(outcome.landings[i].at.frame)]->source,
                     outcome.hits[i].anchor.frame);
    }

private slots:
    void aSilentEndFadesOut() {
        TakesRig rig(7);
        QVERIFY(rig.edit(DeleteBars{10, 9}));
        QCOMPARE(rig.session.length().frames, 9 * TakesRig::bar);
        const auto outcome = rig.outcome();
        QCOMPARE(outcome->plan->seams.back().kind, SeamKind::closed);
        const std::int64_t early = 9 * TakesRig::bar - outcome->plan->seams.back().range.end.frame;
        QVERIFY(0 <= early && early < 2400);
        checkAttacks(rig, *outcome, rig.trace(*outcome->plan));
    }
};

QTEST_APPLESS_MAIN(TestComp)
#include "tst_comp.moc"
