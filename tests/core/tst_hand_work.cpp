#include "advice/hit_edits.h"
#include "advice/map_advice.h"
#include "deliver/click_file.h"
#include "pipeline/companion_attacks.h"
#include "support/built_kit.h"
#include "support/takes_rig.h"

#include <QtTest>

#include <cmath>

using namespace lampo;
using namespace lampo::test;

/// Edits by hand on the hits that sound, and what helps with them, through all stages.
class TestHandWork : public QObject {
    Q_OBJECT

    static std::vector<HitIndex> from(std::size_t first, std::size_t count) {
        std::vector<HitIndex> chosen(count);
        std::iota(chosen.begin(), chosen.end(), HitIndex{first});
        return chosen;
    }
    static void perform(TakesRig& rig, const Expected<Edit>& edit) {
        QVERIFY2(edit, edit ? "" : edit.error().sentence.c_str());
        QVERIFY(rig.edit(*edit));
    }
    /// First of a run of hits that lie on their lines, far from each other.
    static std::size_t quietRun(const Outcome& outcome, std::size_t count) {
        std::size_t run = 0;
        for (std::size_t i = 20; i < outcome.landings.size(); ++i) {
            const Landing& landing = outcome.landings[i];
            const bool apart = landing.at - outcome.landings[i - 1].at >= FrameCount{5000};
            run = landing.state == LandingState::landed && apart ? run + 1 : 0;
            if (run == count + 2)
                return i - count;
        }
        qFatal("no such run");
    }

private slots:
    void nudgesAndPlaces() {
        TakesRig rig(3);
        auto before = rig.outcome();
        const std::size_t hit = quietRun(*before, 1);
        perform(rig, nudgeEdit(rig.session, *before, from(hit, 1), FrameCount{100}));
        QCOMPARE((rig.outcome()->landings[hit].at - before->landings[hit].at).frames, 100);
        perform(rig, stepNudgeEdit(rig.session, *before, from(hit, 1), -1));
        QCOMPARE((rig.outcome()->landings[hit].at - before->landings[hit].at).frames, -TakesRig::sixteenth);
        perform(rig, clearByHandEdit(rig.session, *before, from(hit, 1)));
        QCOMPARE(rig.outcome()->landings[hit].at, before->landings[hit].at);
    }
    void sentToNeighbouringLines() {
        TakesRig rig(3);
        const auto before = rig.outcome();
        for (std::size_t hit = 20; hit + 2 < before->landings.size(); ++hit) {
            // Only where the line after is free.
            const auto& line = before->landings[hit].line;
            const auto& next = before->landings[hit + 1].line;
            if (!line || !next || before->landings[hit].state != LandingState::landed ||
                next->frame - line->frame <= FrameCount{TakesRig::sixteenth})
                continue;
            perform(rig, sendEdit(rig.session, *before, from(hit, 1), 1));
            const auto after = rig.outcome();
            QCOMPARE((after->landings[hit].line->frame - line->frame).frames, TakesRig::sixteenth);
            QCOMPARE(after->landings[hit + 1].at, before->landings[hit + 1].at);
            perform(rig, sendEdit(rig.session, *after, from(hit, 1), -1));
            QCOMPARE(rig.outcome()->landings[hit].line->frame, line->frame);
            return;
        }
        QFAIL("no line was free");
    }
    void phrasesShovesAndSlips() {
        TakesRig rig(4);
        const auto before = rig.outcome();
        const std::size_t first = quietRun(*before, 5);
        perform(rig, phraseEdit(rig.session, *before, from(first, 5), 0));
        QVERIFY(phraseAt(rig.session, *before, {first}) && phraseAt(rig.session, *before, {first + 4}));
        QVERIFY(!phraseAt(rig.session, *before, {first + 5}) && !phraseAt(rig.session, *before, {first - 1}));
        QCOMPARE(rig.outcome()->landings[first + 2].state, LandingState::left);
        QVERIFY(!phraseEdit(rig.session, *before, from(first, 2), 0));
        perform(rig, clearByHandEdit(rig.session, *before, from(first, 5)));
        perform(rig, shoveEdit(rig.session, *before, from(first, 5), FrameCount{TakesRig::sixteenth}));
        auto after = rig.outcome();
        for (std::size_t i = first; i < first + 5; ++i)
            QCOMPARE(after->landings[i].shoved.frames, TakesRig::sixteenth);
        QCOMPARE(after->landings[first + 5].shoved.frames, 0);
        QCOMPARE(after->landings[first - 1].shoved.frames, 0);
        perform(rig, shoveEdit(rig.session, *before, from(first, 5), {}));
        QVERIFY(rig.session.shoves.empty());
        perform(rig, slipEdit(rig.session, *before, from(first, 5), FrameCount{-240}));
        after = rig.outcome();
        for (std::size_t i = 0; i < before->landings.size(); ++i)
            QCOMPARE((after->landings[i].at - before->landings[i].at).frames,
                     first <= i && i < first + 5 ? -240 : 0);
    }
    void onlyOnePassageOfOneTake() {
        TakesRig rig(5);
        QVERIFY(rig.edit(Lay{{SongFrame{3 * TakesRig::bar}, SongFrame{5 * TakesRig::bar}}, TakeIndex{1}}));
        const auto outcome = rig.outcome();
        std::size_t border = 1;
        while (outcome->hits[border].take == outcome->hits[border - 1].take)
            ++border;
        QVERIFY(!shoveEdit(rig.session, *outcome, from(border - 2, 4), FrameCount{100}));
        QVERIFY(!nudgeEdit(rig.session, *outcome, {}, FrameCount{100}));
    }
    void beatsLeaveTheListeningOfTheirBarsAlone() {
        TakesRig rig(3);
        Section bars{"Bars", 2, 8, {}, {}};
        for (const Mic& mic : rig.session.mics)
            bars.detection.push_back({mic.stem, Decibels{0}, {}, {}});
        QVERIFY(rig.edit(SetSections{{bars}, "bars"}));
        const auto before = rig.outcome();
        Section beat{"Beat", 3, 1, NoteValue{1, 12}, {}};
        beat.beats = BeatRange{2, 1};
        QVERIFY(rig.edit(SetSections{{bars, beat}, "beat"}));
        QVERIFY(rig.outcome()->takes[0]->found.hits == before->takes[0]->found.hits);
        QVERIFY(TakesRig(3).outcome()->takes[0]->found.hits != before->takes[0]->found.hits);
    }
    void aPassageHoldsItsHitsAndNoOthers() {
        const TakesRig rig(3);
        Outcome outcome; // three hits, nearer than a correction speaks
        for (const std::int64_t at : {100000, 100400, 100800}) {
            SongHit hit;
            hit.anchor = hit.first = hit.last = SourceFrame{at};
            outcome.hits.push_back(hit);
        }
        for (std::size_t hit = 0; hit < 3; ++hit) {
            const auto passage = passageOf(rig.session, outcome, from(hit, 1));
            QVERIFY(passage);
            for (std::size_t other = 0; other < 3; ++other)
                QCOMPARE(passage->range.contains(outcome.hits[other].found()), other == hit);
        }
    }
    void theFeelOfAPassageBringsItBack() {
        // What was played, with its own feel at 100 %, lands about where it was played on average; the means of the
        // places are those of the deviations.
        TakesRig rig(6, 0, 2);
        const auto outcome = rig.outcome();
        const auto feel =
            feelOfPassage(rig.session, *outcome, {SongFrame{TakesRig::bar}, SongFrame{9 * TakesRig::bar}}, "mine");
        QVERIFY(feel && isFeel(*feel));
        for (const FeelPoint& point : feel->points) {
            double sum = 0;
            int count = 0;
            for (const Landing& landing : outcome->landings) {
                if (!landing.line || landing.line->frame < SongFrame{TakesRig::bar} ||
                    landing.line->frame >= SongFrame{9 * TakesRig::bar} ||
                    std::abs(landing.line->place.beat - 1 - point.quarters) > 1e-9)
                    continue;
                sum += static_cast<double>((landing.played - landing.line->frame).frames);
                ++count;
            }
            QVERIFY(count > 0 && std::abs(point.late * 24000 - sum / count) < 1e-6 * 24000);
        }
        QVERIFY(!feelOfPassage(rig.session, *outcome, {SongFrame{-9000000}, SongFrame{-8000000}}, "none"));
    }
    void companionsAreHeardThroughTheForm() {
        TakesRig rig(7);
        rig.session.companions = {{"bass", "/bass.wav", {}, false}};
        MicAnalysis heard;
        for (const std::int64_t at : {10000, 11000, 300000, 900000}) // the second is an ornament of the first
            heard.candidates.push_back({SourceFrame{at}, {0}, {20}, {}, {}});
        heard.candidates.push_back({SourceFrame{950000}, {-40}, {20}, {}, {}}); // too soft
        rig.analyses.add(companionKey(rig.session, rig.session.companions[0]),
                         std::make_shared<MicAnalysis>(heard));
        using Places = std::vector<SongFrame>;
        QCOMPARE(companionAttacks(rig.session, rig.analyses, "bass", {-24}),
                 (Places{SongFrame{10000}, SongFrame{300000}, SongFrame{900000}}));
        QVERIFY(rig.edit(InsertBars{3, 1}));
        QCOMPARE(companionAttacks(rig.session, rig.analyses, "bass", {-24}),
                 (Places{SongFrame{10000}, SongFrame{300000 + TakesRig::bar}, SongFrame{900000 + TakesRig::bar}}));
        QVERIFY(rig.edit(FollowCompanion{CompanionLines{"bass", {40}, {-24}}}));
        QCOMPARE(*rig.outcome()->attacks,
                 (Places{SongFrame{10000}, SongFrame{300000 + TakesRig::bar}, SongFrame{900000 + TakesRig::bar}}));
    }
    void theClickLiesOnTheBeats() {
        TempFolder folder;
        Session session;
        session.rate = {48000};
        session.takes = {{'A', {}, {}, {}, FrameCount{48000 * 6}}};
        session.comp = {{Passage{SongFrame{0}, TakeIndex{0}, {}}}, {}};
        session.map.meters = {{1, {3, 4}}};
        const auto onsets = [&](const ClickSettings& settings) {
            const auto file = folder / "click.wav";
            (void)writeClick(session, settings, file, SampleFormat::wav24, {});
            const auto sound = readAudio(file);
            std::vector<std::int64_t> found;
            for (std::size_t i = 1; i < sound.size(); ++i)
                if (sound[i] != 0 &&
                    std::all_of(sound.begin() + static_cast<std::ptrdiff_t>(i > 400 ? i - 400 : 0),
                                sound.begin() + static_cast<std::ptrdiff_t>(i), [](float x) { return x == 0; }))
                    found.push_back(static_cast<std::int64_t>(i) - 1); // a sine begins with 0
            return std::pair(found, sound);
        };
        const auto [beats, sound] = onsets({});
        QCOMPARE(sound.size(), std::size_t{48000 * 6});
        QCOMPARE(beats.size(), std::size_t{12}); // six seconds at 120 BPM
        for (std::size_t i = 0; i < beats.size(); ++i)
            QCOMPARE(beats[i], static_cast<std::int64_t>(i) * 24000);
        // The accent is higher: more crossings of zero in its first 5 ms.
        const auto crossings = [&](std::int64_t at, const std::vector<float>& in) {
            int count = 0;
            for (std::int64_t i = at + 1; i < at + 240; ++i)
                count += (in[static_cast<std::size_t>(i)] > 0) != (in[static_cast<std::size_t>(i + 1)] > 0);
            return count;
        };
        QVERIFY(crossings(72000, sound) > crossings(24000, sound));
        const auto plain = onsets({false, {}}).second;
        QCOMPARE(crossings(72000, plain), crossings(24000, plain));
        QCOMPARE(onsets({true, NoteValue{1, 8}}).first.size(), std::size_t{24});
    }
    void theClickNeverGoesOverASource() {
        TempFolder folder;
        writeAudio(folder / "kick.wav", std::vector<float>(48000, 0.1F));
        const auto before = contents(folder.path());
        Session session;
        session.rate = {48000};
        session.takes = {{'A', folder.path(), {SourceFile{folder / "kick.wav"}}, {}, FrameCount{48000}}};
        session.comp = {{Passage{SongFrame{0}, TakeIndex{0}, {}}}, {}};
        const auto refused = writeClick(session, {}, folder / "kick.wav", SampleFormat::wav24, {});
        QVERIFY(!refused && refused.error().sentence.find("kick.wav") != std::string::npos);
        QVERIFY(contents(folder.path()) == before);
    }
};

QTEST_GUILESS_MAIN(TestHandWork)
#include "tst_hand_work.moc"
