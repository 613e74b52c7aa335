#include "advice/borrowed.h"
#include "advice/donors.h"
#include "advice/hit_edits.h"
#include "advice/patch_advice.h"
#include "advice/silences.h"
#include "advice/take_advice.h"
#include "advice/ungrouped.h"
#include "midi/tempo_map.h"
#include "project/feel_file.h"
#include "project/kit_layout.h"
#include "project/project_json.h"
#include "pulse/followed_map.h"
#include "seams/plan.h"
#include "support/takes_rig.h"
#include "warnings/warnings.h"

#include <nlohmann/json.hpp>

#include <QtTest>

#include <fstream>

using namespace lampo;
using namespace lampo::test;

Q_DECLARE_METATYPE(lampo::Edit)

namespace {

std::string sentenceOf(const auto& refused) {
    return refused ? std::string("(taken)") : refused.error().sentence;
}

/// A song of three takes with everything in it that edits speak of.
Session song() {
    TakesRig rig(1);
    rig.edit(SetSections{{{"Bridge", 3, 2, {}, {}}, {"Turn", 8, 1, {}, {}}}, "sections"});
    rig.session.sections[1].beats = BeatRange{1, 2};
    rig.edit(FeelEdit{KeepFeel{{"Boat out", 4, {{0, 0, {}}, {1, 0.02, {}}}}}});
    rig.edit(FeelEdit{KeepFeel{{"Boat in", 4, {{0, 0, {}}}}}});
    rig.edit(KeepTry{TakesRig::barsOf(2, 3)});
    rig.edit(KeepVersion{"First", "2026-11-20", {}});
    return rig.session;
}

} // namespace

/// What people read when something cannot be done, or is worth a look: whole sentences, as they are shown.
class TestSentences : public QObject {
    Q_OBJECT
private slots:
    void editsRefuse_data() {
        QTest::addColumn<Edit>("edit");
        QTest::addColumn<QString>("sentence");
        const auto row = [](const char* what, Edit edit, const char* sentence) {
            QTest::newRow(what) << std::move(edit) << QString::fromUtf8(sentence);
        };
        const MapData backwards{SongFrame{0}, {MeterChange{}}, {{4, {120}}}};
        MapData outside;
        outside.tempos.push_back({2, {130}, false, 5});
        MapData odd;
        odd.meters = {{1, {4, 3}}};
        row("no mic", SetGuide{{9}, true}, "There is no such mic");
        row("threshold", SetThreshold{{0}, {-99}}, "A threshold goes from -60 to 0 dB");
        row("gap", SetShortestGap{{0}, {5}}, "The shortest gap goes from 10 to 500 ms");
        row("section of beats", SetSectionDetection{1, {"kick", Decibels{-20}, {}, {}}},
            "Detection is set for whole bars: choose its section instead");
        row("no section", SetSwing{7, 60}, "There is no such section");
        row("swing", SetSwing{{}, 80}, "The swing goes from 50 to 75 %");
        row("reach in steps", SetReach{{}, Reach{9, true}}, "The reach goes from 0 to 4 steps");
        row("map without a beginning", SetMap{backwards, "x"},
            "A map begins at bar 1, and has one tempo and one meter at each place");
        row("tempo outside its bar", SetMap{outside, "x"}, "The change of tempo at 2.5 lies outside its bar");
        row("meter", SetMap{odd, "x"}, "A meter has 1 to 32 beats of 1, 2, 4, 8, 16 or 32");
        row("nameless section", SetSections{{{"", 1, 1, {}, {}}}, "x"},
            "A section has a name and at least one bar");
        row("overlap", SetSections{{{"A", 1, 4, {}, {}}, {"B", 3, 2, {}, {}}}, "x"},
            "The sections A and B would overlap");
        row("feel", FeelEdit{KeepFeel{{"", 4, {}}}},
            "A feel has a name, and its places lie in the bar in the order they are played");
        row("name of another feel", FeelEdit{RenameFeel{"Boat in", "Boat out"}},
            "Another feel has this name already");
        row("no feel", FeelEdit{DeleteFeel{"Boat up"}}, "There is no such feel");
        row("phrase of one hit", HandEdit{MakePhrase{{{'A'}, SourceFrame{500}, SourceFrame{500}}}},
            "A phrase goes from one hit to a later one");
        row("empty passage", HandEdit{Shove{{{'A'}, {SourceFrame{5}, SourceFrame{5}}, FrameCount{1}}}},
            "Choose the hits of the passage first");
        row("far passage", HandEdit{Slip{{{'A'}, {SourceFrame{5}, SourceFrame{9}}, FrameCount{9999999}}}},
            "The move of a passage goes from -10000 to 10000 ms");
        row("no take", ChooseTake{{5}}, "There is no such take");
        row("range outside", Lay{{SongFrame{5}, SongFrame{5}}, TakeIndex{0}}, "The range lies outside the song");
        row("many bars", InsertBars{1, 5000}, "The number of bars goes from 1 to 1000");
        row("no bar", DeleteBars{500, 1}, "There is no such bar in the song");
        row("marks", Rate{{'A'}, 1, 1, 4}, "A bar gets 0 to 3 marks");
        row("try again", KeepTry{TakesRig::barsOf(2, 3)}, "This is kept already");
        row("no try", LayTry{3}, "There is no such try");
        row("nameless version", KeepVersion{"", "", {}}, "A version wants a name");
        row("renamed to nothing", RenameVersion{0, ""}, "A version wants a name");
        row("copied to nothing", DuplicateVersion{0, ""}, "A version wants a name");
        row("no version", DeleteVersion{4}, "There is no such version");
        row("no companion", MuteCompanion{0, true}, "There is no such companion");
        row("fade", SetFade{{900}}, "A fade goes from 1 to 50 ms");
        const SeamByHand longSeam{{{'A'}, SourceFrame{5}, SourceFrame{900}}, {}, Milliseconds{80}, {}, {}};
        row("fade of a seam", SeamEdit{ShapeSeams{{longSeam}}}, "A fade goes from 1 to 50 ms");
        row("no seam", SeamEdit{ShapeSeams{}}, "Choose a seam first");
        row("lead-in", SetLeadIn{{-1}}, "The lead-in goes from 0 to 50 ms");
        row("lead-in of a section", SetSectionLeadIn{0, Milliseconds{51}}, "The lead-in goes from 0 to 50 ms");
        row("fill of no section", SetSectionFill{7, Fill::open}, "There is no such section");
        row("far shift", SetFarShift{{90}}, "The farthest shift goes from 0.5 to 50 ms");
        row("stretch", SetMostStretch{9}, "The longest stretch goes from 1.01 to 8 times");
        row("nothing to patch", AddPatches{}, "Choose a hit or a stretch to patch first");
        row("no patch chosen", DeletePatches{}, "Choose a patch first");
        row("no such patch", SwitchPatches{{3}, true}, "There is no such patch");
        Patch patch;
        patch.length = FrameCount{100};
        row("patch on no mic", AddPatches{{patch}}, "A patch lies on mics that are not there");
        patch.mics = {song().mics.front().stem};
        patch.at = {'A', SourceFrame{0}};
        patch.kind = PatchKind::borrow;
        row("patch from nowhere", AddPatches{{patch}}, "A patch has its sound from no take");
        patch.from = patch.at;
        patch.gain = {30};
        row("patch too loud", AddPatches{{patch}}, "The gain of a patch goes from -60 to 24 dB");
    }
    void editsRefuse() {
        QFETCH(Edit, edit);
        QFETCH(QString, sentence);
        QCOMPARE(QString::fromStdString(sentenceOf(edited(song(), edit))), sentence);
    }
    void versionsHaveAnEnd() {
        Session session = song();
        while (session.versions.size() < limits::versions)
            session.versions.push_back(session.versions.front());
        QCOMPARE(sentenceOf(edited(session, KeepVersion{"one more", "", {}})),
                 std::string("There are 1000 versions already; delete some first"));
    }
    void repairsAreRefused() {
        TakesRig rig(1);
        Outcome outcome = *rig.outcome();
        outcome.hits.clear();
        const std::vector<HitIndex> none;
        QCOMPARE(sentenceOf(donorsFor(rig.session, outcome, {0})),
                 std::string("Choose a stroke of a drum that has a mic"));
        QCOMPARE(sentenceOf(levelled(rig.session, outcome, none, 100)),
                 std::string("Choose strokes of a drum that has a mic"));
        QCOMPARE(sentenceOf(broughtTogether(rig.session, outcome, {0})),
                 std::string("Choose a hit in which another drum was struck a little before or behind"));
        const std::vector<std::string> mics{rig.session.mics.front().stem};
        const Range<ResultFrame> stretch{ResultFrame{0}, ResultFrame{48000}};
        QCOMPARE(sentenceOf(silenced(rig.session, outcome, stretch, {})),
                 std::string("Choose the mics that shall be silent there"));
        QCOMPARE(sentenceOf(silenced(rig.session, outcome, {}, mics)),
                 std::string("Draw a stretch in the ruler first: there it is to be silent"));
        const auto borrow = [&](Range<ResultFrame> where, const std::vector<std::string>& on) {
            return sentenceOf(borrowed(rig.session, rig.analyses, outcome, where, on, {{0}, 0}));
        };
        QCOMPARE(borrow({}, mics), std::string("Draw a stretch in the ruler first: it is borrowed there"));
        QCOMPARE(borrow(stretch, {}), std::string("Choose the mics that borrow the stretch"));
        QCOMPARE(borrow(stretch, mics), std::string("There are no hits yet that it could be laid on"));
        const auto only = [&](const Edit& edit, const std::vector<std::string>& on) {
            return sentenceOf(onMicsAlone(rig.session, rig.analyses, outcome, on, edit));
        };
        QCOMPARE(only(SetStrength{40}, {}), std::string("Choose first on which mics alone"));
        QCOMPARE(
            only(SetStrength{40}, mics),
            std::string("For some mics alone hits can be moved or taken out, and seams shaped: for anything else "
                        "let the kit be one again"));
        QCOMPARE(
            only(SeamEdit{ShapeSeams{{{{{'A'}, SourceFrame{5}, SourceFrame{900}}, {}, Milliseconds{8}, {}, {}}}}},
                 mics),
            std::string("The seam lies there already, or is none between two hits"));
        QCOMPARE(only(HandEdit{Slip{{{'A'}, {SourceFrame{1000}, SourceFrame{2000}}, FrameCount{5}}}}, mics),
                 std::string("Nothing would land elsewhere"));
        for (Mic& mic : rig.session.mics)
            mic.role = Role::other;
        QCOMPARE(sentenceOf(tomsSilenced(rig.session, outcome)),
                 std::string("There is no tom mic, or every tom rings all the time"));
    }
    void repairsAreCalled() {
        Patch patch;
        patch.mics = {"snare_top", "snare_bottom"};
        const auto called = [&](const PatchEdit& edit) { return describe(song(), Edit{edit}); };
        const auto add = [&](PatchKind kind, bool ofHit) {
            patch.kind = kind;
            patch.ofHit = ofHit;
            return called(AddPatches{{patch}});
        };
        QCOMPARE(add(PatchKind::replace, true), std::string("Replace a stroke of 2 mics"));
        QCOMPARE(add(PatchKind::silence, false), std::string("Silence a stretch of 2 mics"));
        QCOMPARE(add(PatchKind::seam, true), std::string("Join a stroke of 2 mics elsewhere"));
        QCOMPARE(called(AddPatches{{patch, patch}}), std::string("Add 2 patches"));
        QCOMPARE(called(ChangePatches{{{0, patch}, {1, patch}}}), std::string("Change 2 patches"));
        QCOMPARE(called(DeletePatches{{0, 1}}), std::string("Delete 2 patches"));
        QCOMPARE(called(SwitchPatches{{0}, false}), std::string("Switch a patch off"));
        QCOMPARE(describe(song(), Edit{SeamEdit{SetFarShift{{3}}}}), std::string("Warn of shifts above 3 ms"));
    }
    void chosenHitsAreRefused() {
        TakesRig rig(1);
        rig.edit(Lay{TakesRig::barsOf(4, 6), TakeIndex{1}});
        const auto outcome = rig.outcome();
        HitIndex border;
        while (outcome->hits[border].take == outcome->hits[0].take)
            ++border;
        const std::vector<HitIndex> across{{border - 1}, border}, two{{0}, {1}};
        QCOMPARE(sentenceOf(passageOf(rig.session, *outcome, across)),
                 std::string("The chosen hits are of two takes: choose those of one"));
        QCOMPARE(sentenceOf(phraseEdit(rig.session, *outcome, two, 0)),
                 std::string("A phrase has three hits or more: Shift and click chooses up to there"));
        rig.session.form = {{SongFrame{0}, std::nullopt}};
        QCOMPARE(
            sentenceOf(graftEdit(rig.session, *rig.outcome(), {{1}, TakesRig::barsOf(4, 5)}, SongFrame{0}, false)),
            std::string("There is nothing in these bars to take from"));
    }
    void takesWithoutCommonStrokesCannotBeLinedUp() {
        TakesRig rig(1);
        const auto heard = rig.outcome();
        auto deaf = std::make_shared<AnalysedTake>(*heard->takes[1]);
        deaf->found.hits.clear();
        Outcome outcome = *heard;
        outcome.takes[1] = deaf;
        QCOMPARE(sentenceOf(alignTakesEdit(rig.session, outcome, {1}, {0})),
                 std::string("Take B and take A have too few strokes in common to be lined up"));
    }
    void warningsAreWholeSentences() {
        Session session = song();
        Patch shifted;
        shifted.kind = PatchKind::shift;
        shifted.shift = FrameCount{-384};
        session.patches.push_back(shifted);
        const TargetLine line{{SongFrame{96000}, {2, 3}, LineWeight::beat, FrameCount{6000}}, {}};
        SongHit hit;
        hit.voice = Voice::snare;
        hit.ownDate = true;
        Landing landing;
        landing.played = SongFrame{90000};
        landing.at = ResultFrame{96000};
        landing.line = line;
        landing.heldTogether = true;
        std::vector<std::string> said;
        const auto collect = [&](LandingState state) {
            landing.state = state;
            Plan plan;
            plan.segments = {
                {{0}, {}, {ResultFrame{0}, ResultFrame{1000}}, {}, {}},
                {{0}, SourceToResult{FrameCount{4800}}, {ResultFrame{1000}, ResultFrame{2000}}, {}, {}}};
            const Correction lost{Correction::Kind::pin, {'B'}, SourceFrame{100}};
            const CrowdedBorder crowded{SongFrame{TakesRig::bar}};
            plan.segments[1].stretch =
                Stretch{{SourceFrame{0}, SourceFrame{1000}}, {ResultFrame{1000}, ResultFrame{2500}}};
            plan.segments.push_back(
                {{0}, SourceToResult{FrameCount{9600}}, {ResultFrame{2000}, ResultFrame{3000}}, {}, {}});
            plan.segments.push_back(
                {{0}, SourceToResult{FrameCount{14400}}, {ResultFrame{3000}, ResultFrame{4000}}, {}, {}});
            plan.seams.push_back({{ResultFrame{500}, ResultFrame{600}}, SeamKind::repeated});
            plan.seams.back().again = FrameCount{1440};
            plan.patches.push_back({0, {ResultFrame{0}, ResultFrame{100}}, {}, {}, 1, 1, {}});
            Patch lostPatch;
            lostPatch.at = {'B', SourceFrame{100}};
            const SeamByHand lostSeam{{{'B'}, SourceFrame{100}, SourceFrame{9000}}, FrameCount{480}, {}, {}, {}};
            for (const Warning& warning : warningsOf(
                     session,
                     {{&hit, 1}, {&landing, 1}, {&lost, 1}, {&crowded, 1}, plan, {&lostSeam, 1}, {&lostPatch, 1}}))
                said.push_back(warning.text);
        };
        collect(LandingState::doubtful);
        collect(LandingState::beyond);
        Plan empty;
        for (const Warning& warning : warningsOf(session, {{}, {}, {}, {}, empty}))
            said.push_back(warning.text);
        for (const char* sentence :
             {"This snare may mean another line than bar 2 beat 3",
              "This snare means bar 2 beat 3, which lies beyond the reach, so it stays as played",
              "This snare is dated by itself, not by the drum's other strokes: see whether its mark lies right",
              "This snare is too near its neighbour to be cut from it, so both move together",
              "This snare moves by 125 ms", "A hole of 100 ms opens before this slice",
              "A correction in take B no longer finds its hit",
              "A seam shaped by hand in take B no longer finds its hits",
              "A patch in take B no longer finds its hit", "A tail is stretched to 1.5 times its length here",
              "30 ms of a tail sound again here, since the hole is longer than what rings",
              "A stroke sounds 8 ms earlier than the other mics have it, which cancels first at 62 Hz",
              "No quiet place was found for the border in bar 2, so the take before it goes on",
              "No hits were found: choose a guide or lower its threshold"})
            QVERIFY2(std::find(said.begin(), said.end(), sentence) != said.end(), sentence);
        QCOMPARE(said.size(), std::size_t{2 * 12 + 1});
    }
    void damageIsNamed_data() {
        QTest::addColumn<QString>("place"); // JSON pointer
        QTest::addColumn<QString>("value");
        QTest::addColumn<QString>("what");
        const auto row = [](const char* what, const char* place, const char* value) {
            QTest::newRow(what) << QString::fromUtf8(place) << QString::fromUtf8(value) << QString::fromUtf8(what);
        };
        row("it was written by a newer or another program", "/schema", "\"lampo-project-9\"");
        row("\"title\" is not a text", "/title", "5");
        row("\"guide\" is neither true nor false", "/mics/0/guide", "1");
        row("\"role\" is none of the known names", "/mics/0/role", "\"gong\"");
        row("\"letter\" is not a letter", "/takes/0/letter", "\"ab\"");
        row("\"mics\" is not a list", "/mics", "5");
        row("\"assign\" is none of the known names", "/timing/assign", "\"luck\"");
        row("\"fill\" is none of the known names", "/seams/fill", "\"sand\"");
        row("\"curve\" is none of the known names", "/seams/curve", "\"bow\"");
        row("\"most_stretch\" is not a number in its range", "/seams/most_stretch", "0.5");
        row("\"patches\" is not a list", "/patches", "3");
        row("\"kind\" is none of the known names", "/patches", R"([{"kind": "wish"}])");
        row("\"emphasis\" does not have four bands", "/mics/0/emphasis", "[1]");
        row("two mics have one name", "/mics/1/stem", "\"kick\"");
        row("two takes have one letter", "/takes/1/letter", "\"A\"");
        row("a take does not have a file for every mic", "/takes/0/files", "[]");
        row("\"versions\" is not a list", "/versions", "true");
        row("it speaks of a take that does not exist", "/comp/0/take", "\"Q\"");
        row("a phrase ends before it begins", "/phrases", R"([{"take":"A","first":9,"last":3,"ease":0}])");
        row("a moved passage is empty", "/shoves", R"([{"take":"A","begin":9,"end":9,"by":1}])");
    }
    void damageIsNamed() {
        QFETCH(QString, place);
        QFETCH(QString, value);
        QFETCH(QString, what);
        auto project = nlohmann::json::parse(projectText(song(), "/song"));
        project[nlohmann::json::json_pointer(place.toStdString())] = nlohmann::json::parse(value.toStdString());
        QCOMPARE(QString::fromStdString(sentenceOf(sessionFromText(project.dump(), "/song", "\"tide.lampo\""))),
                 "\"tide.lampo\" is damaged or not a Lampo project: " + what + "; nothing was changed");
    }
    void feelsAndKitsHaveSentencesOfTheirOwn() {
        QCOMPARE(
            sentenceOf(feelFromText(R"({"schema":"lampo-feel-9"})", "\"tide.feel\"")),
            std::string("\"tide.feel\" is damaged or holds no feel: it was written by a newer or another program"));
        const TempFolder folder;
        std::ofstream(folder / "tide.kit") << R"({"schema":"lampo-kit-1","mics":[{"stem":5}]})";
        QCOMPARE(sentenceOf(loadKitLayout(folder / "tide.kit")),
                 std::string(
                     "\"tide.kit\" is damaged or not a kit layout: \"stem\" is not a text; nothing was changed"));
    }
    void aDrummerCannotBeFollowedWithoutHits() {
        QCOMPARE(sentenceOf(followedMap(MapData{}, {48000}, {}, 50)),
                 std::string("There are too few hits to follow the drummer: find hits first"));
    }
};

QTEST_APPLESS_MAIN(TestSentences)
#include "tst_sentences.moc"
