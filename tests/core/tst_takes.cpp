#include "advice/take_advice.h"
#include "comp/alignment.h"
#include "demo_kit/demo_recording.h"
#include "session/differences.h"
#include "session/pieces.h"
#include "support/built_kit.h"
#include "support/takes_rig.h"

#include <QtTest>

#include <cmath>

using namespace lampo;
using namespace lampo::test;

namespace {

/// The demo's three takes, whose strokes are known, listened to.
struct Demo {
    TempFolder folder;
    Session session;
    Analyses analyses;
    std::shared_ptr<const Outcome> outcome;

    Demo() {
        if (!demo::writeDemo(folder.path()))
            throw std::runtime_error("no demo");
        session = demo::demoSession(folder.path());
        session = *edited(session,
                          Lay{{SongFrame{0}, SongFrame{1000}}, TakeIndex{1}}); // so that more than one take sounds
        session = *edited(session, Lay{{SongFrame{500}, SongFrame{1000}}, TakeIndex{2}});
        if (!analyseMissing(session, analyses, Listen::toEveryMic, {}))
            throw std::runtime_error("not heard");
        outcome = outcomeOf(session, analyses);
    }
    static const Demo& get() {
        static const Demo demo;
        return demo;
    }
    SongFrame bar(int number) const { return MusicalMap(session.map, session.rate).barStart(number); }
};

Range<SongFrame> bars(int first, int end) {
    return {SongFrame{(first - 1) * TakesRig::bar}, SongFrame{(end - 1) * TakesRig::bar}};
}

/// The analyses as if all strokes of one take lay later in its files.
Analyses delayed(const TakesRig& rig, std::size_t take, FrameCount by) {
    Analyses late = rig.analyses;
    for (std::size_t mic = 0; mic < 2; ++mic) {
        const AnalysisKey key = analysisKey(rig.session, rig.session.takes[take], {mic});
        MicAnalysis analysis = *rig.analyses.of(key);
        for (Candidate& candidate : analysis.candidates)
            candidate.at = candidate.at + by;
        late.add(key, std::make_shared<const MicAnalysis>(std::move(analysis)));
    }
    return late;
}

std::string wordsOf(const std::vector<Difference>& differences) {
    std::string all;
    for (const Difference& difference : differences)
        all += difference.words + "\n";
    return all;
}

} // namespace

class TestTakes : public QObject {
    Q_OBJECT
private slots:
    void barsTogetherAreAsOneLongBar() {
        // Late by 1, 3 and 5 ms in one bar, by −2 in the next: mean and spread by arithmetic.
        TakeMeasures measures{
            5, {{{3, {3}, {std::sqrt(8.0 / 3)}, {5}, {2}, {1}, 1, 0, 0}, {1, {-2}, {0}, {-2}, {0}, {3}, 0, 2, 1}}}};
        const BarMeasure all = measures.over({0}, 4, 9); // bars outside count nothing
        QCOMPARE(all.strokes, std::size_t{4});
        QCOMPARE(all.mean.value, 1.75);
        const double variance = ((1 - 1.75) * (1 - 1.75) + (3 - 1.75) * (3 - 1.75) + (5 - 1.75) * (5 - 1.75) +
                                 (-2 - 1.75) * (-2 - 1.75)) /
                                4;
        QVERIFY(std::abs(all.spread.value - std::sqrt(variance)) < 1e-12);
        QCOMPARE(all.worst.value, 5.0);
        QVERIFY(std::abs(all.unsteady.value - std::sqrt(3 * 4 / 4.0)) < 1e-12);
        QVERIFY(std::abs(all.uneven.value - std::sqrt((3 * 1 + 1 * 9) / 4.0)) < 1e-12);
        QCOMPARE(all.missing, 1);
        QCOMPARE(all.extra, 3);
        QCOMPARE(measures.over({0}, 1, 4).strokes, std::size_t{0});
    }
    void measuresAgreeWithWhatWasPlayed() {
        // The strokes are built: mean and spread of each bar can be computed from what is known of them.
        for (unsigned seed = 0; seed < 10; ++seed) {
            const TakesRig rig(seed, 0.3, 3);
            const auto measures = measureTakes(rig.session, *rig.outcome());
            for (std::size_t take = 0; take < 3; ++take)
                for (int bar = 1; bar <= TakesRig::bars; ++bar) {
                    double sum = 0, squares = 0, count = 0;
                    for (const auto& stroke : rig.played[take])
                        if (stroke.line / 16 == bar - 1) {
                            const double late =
                                static_cast<double>(stroke.at - stroke.line * TakesRig::sixteenth) / 48;
                            sum += late;
                            squares += late * late;
                            ++count;
                        }
                    const BarMeasure& measure = *measures.of({take}, bar);
                    if (static_cast<double>(measure.strokes) != count)
                        continue; // a stroke that meant another line is what the proof is for
                    QVERIFY(std::abs(measure.mean.value - sum / count) < 0.01);
                    const double mean = sum / count;
                    QVERIFY(std::abs(measure.spread.value - std::sqrt(squares / count - mean * mean)) < 0.01);
                }
        }
    }
    void theSpoiledBarOfTheDemoIsFlagged() {
        // Known of the demo: bar 9 of take A lost a snare stroke and holds a clash of sticks; nothing else is
        // spoiled.
        const auto measures = measureTakes(Demo::get().session, *Demo::get().outcome);
        for (std::size_t take = 0; take < 3; ++take)
            for (int bar = 2; bar <= 22; ++bar)
                if (measures.of({take}, bar)->spoiled() != (take == 0 && bar == 9))
                    QFAIL(
                        qPrintable(QStringLiteral("bar %1 of take %2: missing %3, extra %4, clashes %5, spread %6")
                                       .arg(bar)
                                       .arg(take)
                                       .arg(measures.of({take}, bar)->missing)
                                       .arg(measures.of({take}, bar)->extra)
                                       .arg(measures.of({take}, bar)->clashes)
                                       .arg(measures.of({take}, bar)->spread.value)));
        QVERIFY(measures.of({0}, 9)->missing >= 1);
        // Also known: B plays the fill in bar 12 steadiest, A rushes through bars 14 and 15.
        QVERIFY(measures.of({1}, 12)->spread.value < measures.of({0}, 12)->spread.value);
        QVERIFY(measures.of({1}, 12)->spread.value < measures.of({2}, 12)->spread.value);
        QVERIFY(measures.of({0}, 14)->mean.value < -50 && measures.of({1}, 14)->mean.value > -30);
    }
    void theSuggestionAvoidsWhatIsSpoiled() {
        const Demo& demo = Demo::get();
        const auto measures = measureTakes(demo.session, *demo.outcome);
        const auto next = edited(demo.session, suggestedCompEdit(demo.session, measures));
        QVERIFY(next.has_value());
        const auto takeAt = [&](int bar) { return *pieceAt(*next, demo.bar(bar))->take; };
        QVERIFY(takeAt(9) != 0);
        QCOMPARE(takeAt(12), std::size_t{1});
        // It costs no more than any take alone, and does not change takes from bar to bar for nothing.
        double suggested = 0;
        std::vector<double> alone(3);
        for (int bar = 2; bar <= 22; ++bar) {
            suggested += measures.of(takeAt(bar), bar)->cost();
            for (std::size_t take = 0; take < 3; ++take)
                alone[take] += measures.of({take}, bar)->cost();
        }
        QVERIFY(suggested <= *std::min_element(alone.begin(), alone.end()));
        QVERIFY(next->comp.passages.size() < 16);
    }
    void ratedBarsAreLaidTogether() {
        TakesRig rig(1);
        QVERIFY(rig.edit(Rate{'B', 2, 3, 2}));
        QVERIFY(rig.edit(Rate{'C', 3, 1, 3}));
        QVERIFY(rig.edit(Rate{'A', 4, 1, 2}));
        QVERIFY(rig.edit(ratedCompEdit(rig.session)));
        std::string letters;
        for (int bar = 1; bar <= 6; ++bar)
            letters += rig.session.takes[*pieceAt(rig.session, bars(bar, bar + 1).begin)->take].letter.value;
        QCOMPARE(letters, std::string("ABCAAA")); // in bar 4 A and B are equal, and A sounds
    }

    void takesAreLinedUp() {
        // The same performance recorded elsewhere on the timeline: any distance, and another drummer's jitter.
        for (unsigned seed = 0; seed < 20; ++seed) {
            TakesRig rig(seed, 0.15, 4);
            const auto heard = rig.outcome();
            const FrameCount later{static_cast<std::int64_t>(seed) * 777777 - 3000000};
            auto moved = heard->takes[1]->found.hits;
            for (Hit& hit : moved)
                hit.anchor = hit.anchor + later;
            const auto found = alignmentOf(heard->takes[0]->found.hits, moved, {48000});
            QVERIFY(found.has_value());
            QVERIFY2(std::abs((found->later - later).frames) < 48 * 40, // their drifts differ by this much
                     qPrintable(QString::number((found->later - later).frames)));
            QVERIFY(found->agreed > 0.4);
        }
        TakesRig rig(1, 0.15);
        QVERIFY(rig.edit(SetTakeStart{1, FrameCount{123456}}));
        const auto edit = alignTakesEdit(rig.session, *rig.outcome(), {1}, {0});
        QVERIFY(edit && rig.edit(*edit));
        QVERIFY(std::abs(rig.session.takes[1].start.frames) < 48 * 40);
        // Strokes that lie later in their files begin earlier by as much.
        const auto late = delayed(rig, 1, FrameCount{96000});
        const auto earlier = alignTakesEdit(rig.session, *outcomeOf(rig.session, late), {1}, {0});
        QVERIFY(earlier && rig.edit(*earlier));
        QVERIFY(std::abs(rig.session.takes[1].start.frames + 96000) < 48 * 40);
        QVERIFY(!alignmentOf({}, rig.outcome()->takes[0]->found.hits, {48000}));
    }
    void aGraftIsLinedUpByItsHits() {
        // Bar 5 of take B leans by a known amount; at bar 9 it lies on the grid, on average.
        TakesRig rig(3, 0, 2);
        const FrameCount lean{2000};
        const auto outcome = outcomeOf(rig.session, delayed(rig, 1, lean));
        const auto edit = graftEdit(rig.session, *outcome, {{1}, bars(5, 6)}, bars(9, 10).begin);
        QVERIFY(edit && rig.edit(*edit));
        const auto graft = rig.session.comp.passages[1].graft;
        QVERIFY(graft.has_value());
        QVERIFY(std::abs(graft->frames - (4 * TakesRig::bar - lean.frames)) < 48 * 3);
        const auto exactly = graftEdit(rig.session, *outcome, {{1}, bars(5, 6)}, bars(9, 10).begin, true);
        QVERIFY(exactly && rig.edit(*exactly));
        QCOMPARE(rig.session.comp.passages[1].graft->frames, 4 * TakesRig::bar);
        // Its source can be told from any place in the result.
        const auto piece = pieceAt(rig.session, bars(9, 10).begin + FrameCount{100});
        QCOMPARE(piece->sourceAt(bars(9, 10).begin + FrameCount{100}).frame, bars(5, 6).begin.frame + 100);
    }
    void aGraftKeepsItsBarsWhereTheTempoIsAnother() {
        TakesRig rig(3, 0, 2);
        rig.session.map.tempos = {{1, {120}}, {8, {100}}};
        const auto edit = graftEdit(rig.session, *rig.outcome(), {{1}, bars(5, 6)}, bars(8, 9).begin);
        QVERIFY(edit && rig.edit(*edit));
        const MusicalMap map(rig.session.map, rig.session.rate);
        QCOMPARE(rig.session.comp.passages[2].begin.frame, map.barStart(9).frame);
    }

    void ringAcrossABorderIsHeard_data() {
        QTest::addColumn<double>("struckBefore"); // seconds before the border
        QTest::addColumn<bool>("rings");
        QTest::newRow("a cymbal just struck") << 0.4 << true;
        QTest::newRow("long gone") << 6.0 << false;
    }
    void ringAcrossABorderIsHeard() {
        // A built cymbal: noise that falls by 20 dB a second; known level anywhere.
        QFETCH(double, struckBefore);
        QFETCH(bool, rings);
        TempFolder folder;
        constexpr int rate = 48000;
        const std::int64_t length = 16 * rate, border = 10 * rate;
        const auto struck = border - std::llround(struckBefore * rate);
        std::mt19937 random(1);
        std::vector<float> cymbal(length);
        for (std::int64_t i = struck; i < length; ++i)
            cymbal[static_cast<std::size_t>(i)] =
                static_cast<float>(0.5 * std::pow(10.0, -static_cast<double>(i - struck) / rate) *
                                   std::uniform_real_distribution<>(-1, 1)(random));
        writeAudio(folder / "overhead.wav", cymbal);
        Session session;
        session.rate = {rate};
        session.mics = {{"kick", {}, Role::kick, true}, {"overhead", {}, Role::overhead}};
        for (const char letter : {'A', 'B'})
            session.takes.push_back(
                {letter,
                 folder.path(),
                 {SourceFile{}, SourceFile(folder / "overhead.wav", 0, FrameCount{}, FrameCount{length})},
                 {},
                 FrameCount{length}});
        session = *edited(session, Lay{{SongFrame{border}, SongFrame{length}}, TakeIndex{1}});
        Analyses analyses;
        QVERIFY(analyseMissing(session, analyses, Listen::toEveryMic, {}).has_value());
        const auto advice = adviseOnBorder(session, *outcomeOf(session, analyses), 1);
        QVERIFY2(advice.has_value(), advice ? "" : advice.error().sentence.c_str());
        QCOMPARE(advice->ringsAcross, rings);
        // −20 dB a second, measured over the last 50 ms before the border.
        QVERIFY(std::abs(advice->ring.value + 20 * struckBefore) < 3 || !rings);
        if (rings) {
            QVERIFY(advice->fade.value > session.seams.fade.value);
            QVERIFY(advice->before && std::abs(advice->before->frame - struck) < rate / 20);
        }
        QVERIFY(!adviseOnBorder(session, *outcomeOf(session, analyses), 0));
    }

    void versionsAreKeptAndRestored() {
        TakesRig rig(1);
        QVERIFY(rig.edit(KeepVersion{"Rough", "2026-11-20 18:00", {}}));
        const Session rough = rig.session;
        QVERIFY(rig.edit(Lay{bars(3, 5), TakeIndex{1}}));
        QVERIFY(rig.edit(SetStrength{60}));
        QVERIFY(rig.edit(KeepVersion{"Softer", "", {}}));
        QCOMPARE(rig.session.versions[1].session->timing.strength, 60.0);
        QVERIFY(rig.session.versions[1].session->versions.empty()); // none holds others
        QVERIFY(rig.edit(RestoreVersion{0}));
        QCOMPARE(rig.session.timing.strength, 100.0);
        QVERIFY(rig.session.comp == rough.comp);
        QCOMPARE(rig.session.versions.size(), std::size_t{2});
        QVERIFY(rig.edit(RenameVersion{1, "Half way"}));
        QVERIFY(!rig.edit(RenameVersion{1, ""}));
        QVERIFY(rig.edit(DeleteVersion{0}));
        QCOMPARE(rig.session.versions[0].name, std::string("Half way"));
        QVERIFY(!rig.edit(RestoreVersion{1}));
    }
    void differencesAreSaidInWords() {
        TakesRig rig(1);
        const Session before = rig.session;
        QVERIFY(differencesOf(before, before).empty());
        QVERIFY(rig.edit(Lay{bars(3, 5), TakeIndex{1}}));
        QVERIFY(rig.edit(Lay{bars(8, 9), TakeIndex{0}, FrameCount{4 * TakesRig::bar}}));
        QVERIFY(rig.edit(SetStrength{60}));
        QVERIFY(rig.edit(SetThreshold{0, {-30}}));
        QVERIFY(rig.edit(Correct{{Correction::Kind::pin, 'A', SourceFrame{48000}}}));
        const auto found = differencesOf(before, rig.session);
        const std::string words = wordsOf(found);
        for (const char* said : {"Bars 3 to 4: take B, was take A", "Bar 8: a graft from take A, was take A",
                                 "Strength: 60 %, was 100 %", "Threshold of kick", "1 correction more"})
            QVERIFY2(words.find(said) != std::string::npos, words.c_str());
        QCOMPARE(found.size(), std::size_t{5});
        QVERIFY(found[0].where == std::vector{bars(3, 5)});
        // And the other way round.
        QVERIFY(wordsOf(differencesOf(rig.session, before)).find("1 correction fewer") != std::string::npos);
    }
    void everyEditOfTheCompShowsInTheWords() {
        // Whatever is laid: two comps that sound alike have no words about takes, others have some.
        std::mt19937 random(4);
        const auto whole = [&](int low, int high) { return std::uniform_int_distribution<>(low, high)(random); };
        for (int round = 0; round < 100; ++round) {
            TakesRig rig(1);
            const Session before = rig.session;
            for (int step = whole(0, 3); step > 0; --step) {
                const int bar = whole(1, 11);
                QVERIFY(rig.edit(Lay{bars(bar, bar + 1), TakeIndex{static_cast<std::size_t>(whole(0, 1))}}));
            }
            QCOMPARE(differencesOf(before, rig.session).empty(), piecesOf(before) == piecesOf(rig.session));
        }
    }
    void tries() {
        TakesRig rig(1);
        QVERIFY(rig.edit(KeepTry{bars(3, 5)}));
        QVERIFY(!rig.edit(KeepTry{bars(3, 5)})); // kept already
        QVERIFY(rig.edit(Lay{bars(3, 4), TakeIndex{1}}));
        QVERIFY(rig.edit(KeepTry{bars(3, 5)}));
        const Session tried = rig.session;
        QVERIFY(rig.edit(LayTry{0}));
        QCOMPARE(piecesOf(rig.session).size(), std::size_t{1});
        QVERIFY(rig.edit(LayTry{1}));
        QVERIFY(rig.session.comp == tried.comp);
        QVERIFY(rig.edit(DeleteTry{0}));
        QCOMPARE(rig.session.tries.size(), std::size_t{1});
    }
};

QTEST_APPLESS_MAIN(TestTakes)
#include "tst_takes.moc"
