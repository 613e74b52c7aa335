#include "edits/edit.h"
#include "midi/midi_feel.h"
#include "project/feel_file.h"
#include "project/project_json.h"
#include "support/temp_folder.h"
#include "timing/landing.h"

#include <QtTest>

#include <cmath>
#include <fstream>
#include <random>

using namespace lampo;

namespace {

constexpr SampleRate rate{48000};

Session songOf() {
    Session session;
    session.rate = rate;
    session.mics = {{"kick"}};
    session.takes = {{'A', {}, {{}}, {}, FrameCount{48000 * 60}}};
    session.companions = {{"bass", {}, {}, false}};
    return session;
}

Hit hitAt(std::int64_t at) {
    return {SourceFrame{at}, SourceFrame{at}, SourceFrame{at}, MicIndex{0}, 1, Voice::snare, {0}, false};
}

Feel laidBack() {
    return {"laid back", 4, {{0, 0, {0}}, {1, 0.04, {-3}}, {1.5, 0.02, {-12}}, {3, 0.04, {-3}}}};
}

} // namespace

class TestFeel : public QObject {
    Q_OBJECT
private slots:
    void latenessGoesAroundTheBar() {
        const Feel feel = laidBack();
        QVERIFY(isFeel(feel));
        QCOMPARE(latenessAt(feel, 1), 0.04);
        QCOMPARE(latenessAt(feel, 5), 0.04); // beyond its bar from its begin again
        QVERIFY(std::abs(latenessAt(feel, 0.5) - 0.02) < 1e-12);
        QVERIFY(std::abs(latenessAt(feel, 3.5) - 0.02) < 1e-12); // between the last and the first of the next bar
    }
    void takenOfAPerformanceItIsTheMean() {
        std::mt19937 random(3);
        std::vector<FeltHit> hits;
        const std::vector<FeelPoint> truth{{0, -0.01, {0}}, {1, 0.05, {-2}}, {2.5, 0.03, {-14}}};
        for (int bar = 0; bar < 40; ++bar)
            for (const FeelPoint& point : truth) // in pairs that cancel out, so that the mean is exact
                for (const double sign : {-1.0, 1.0})
                    hits.push_back({point.quarters + 4 * bar, point.late + sign * 0.001 * bar, point.level});
        std::shuffle(hits.begin(), hits.end(), random);
        const Feel feel = feelOf("it", 4, hits);
        QVERIFY(isFeel(feel));
        QCOMPARE(feel.points.size(), truth.size());
        for (std::size_t i = 0; i < truth.size(); ++i) {
            QVERIFY(std::abs(feel.points[i].late - truth[i].late) < 1e-9);
            QVERIFY(std::abs(feel.points[i].level.value - truth[i].level.value) < 1e-9);
        }
    }
    void placesNeverSwapWhateverWasPlayed() {
        std::mt19937 random(9);
        for (int round = 0; round < 500; ++round) {
            std::vector<FeltHit> hits;
            const int count = 1 + round % 24;
            for (int i = 0; i < count; ++i)
                hits.push_back({std::uniform_int_distribution<>(0, 15)(random) / 4.0,
                                std::uniform_real_distribution<>(-0.6, 0.6)(random),
                                {0}});
            const Feel feel = feelOf("it", 4, hits);
            QVERIFY(isFeel(feel));
            double before = -10;
            for (double place = 0; place < 8; place += 1.0 / 16) {
                const double played = place + latenessAt(feel, place);
                QVERIFY(played > before);
                before = played;
            }
        }
    }
    void hitsLandOnTheFelt_data() {
        QTest::addColumn<double>("amount");
        for (const double amount : {0.0, 25.0, 60.0, 100.0})
            QTest::addRow("%g %%", amount) << amount;
    }
    void hitsLandOnTheFelt() {
        QFETCH(double, amount);
        Session session =
            *edited(*edited(songOf(), KeepFeel{laidBack()}), UseFeel{{}, FeelUse{"laid back", amount}});
        const std::vector<Hit> hits{hitAt(96000 + 200), hitAt(120000 - 300), hitAt(132000 + 500), hitAt(168000)};
        const auto landings = land(session, MusicalMap(session.map, rate), {}, hits);
        // Arithmetic: at 120 BPM and 48 kHz a quarter is 24,000 frames.
        const std::vector<double> late{0, 0.04, 0.02, 0.04};
        const std::vector<std::int64_t> lines{96000, 120000, 132000, 168000};
        for (std::size_t i = 0; i < hits.size(); ++i) {
            QCOMPARE(landings[i].at.frame, lines[i] + std::llround(late[i] * amount / 100 * 24000));
            QCOMPARE(landings[i].line->bent.frames, landings[i].at.frame - lines[i]);
        }
    }
    void sectionsHaveTheirOwnFeel() {
        // Bar 2 is straight, bar 3 half as much as the song, the last beat of bar 4 straight again.
        Session session = *edited(*edited(songOf(), KeepFeel{laidBack()}), UseFeel{{}, FeelUse{"laid back", 80}});
        Section beat{"Beat", 4, 1, {}, {}};
        beat.beats = BeatRange{4, 1};
        session = *edited(session, SetSections{{{"Two", 2, 1, {}, {}}, {"Three", 3, 1, {}, {}}, beat}, "x"});
        session = *edited(session, UseFeel{0, FeelUse{}});
        session = *edited(session, UseFeel{1, FeelUse{"laid back", 40}});
        session = *edited(session, UseFeel{2, FeelUse{}});
        const MusicalMap map(session.map, rate);
        std::vector<Hit> hits;
        for (int bar = 1; bar <= 4; ++bar)
            for (const double wholes : {0.25, 0.75}) // the second and the fourth beat
                hits.push_back(hitAt(map.at(bar, wholes).frame));
        const auto lateAt = [&](const Session& asked, std::size_t i) {
            return land(asked, map, {}, hits)[i].line->bent.frames;
        };
        // Arithmetic: both are 0.04 of a quarter late, at 120 BPM and 48 kHz 960 frames.
        const std::vector<double> amounts{80, 80, 0, 0, 40, 40, 80, 0};
        for (std::size_t i = 0; i < hits.size(); ++i)
            QCOMPARE(lateAt(session, i), std::llround(960 * amounts[i] / 100));
        const auto followed = *edited(session, UseFeel{0, std::nullopt});
        QCOMPARE(lateAt(followed, 2), std::int64_t{768});
        QVERIFY(!edited(session, UseFeel{0, FeelUse{"none"}}) && !edited(session, UseFeel{7, FeelUse{}}));
        const auto renamed = *edited(session, RenameFeel{"laid back", "lazy"});
        QCOMPARE(renamed.sections[1].feel->name, std::string("lazy"));
        const auto dropped = *edited(session, DeleteFeel{"laid back"});
        QVERIFY(!dropped.sections[1].feel && dropped.sections[0].feel && !dropped.usesFeel());
        const auto again = sessionFromText(projectText(session, "/"), "/", "it");
        QVERIFY(again && *again == session);
        std::string damaged = projectText(session, "/");
        const auto at = damaged.rfind("laid back");
        QVERIFY(at != std::string::npos);
        damaged.replace(at, 4, "paid");
        QVERIFY(!sessionFromText(damaged, "/", "it"));
    }
    void hitsLandOnTheCompanionWhereItIsNear() {
        const Session session = *edited(songOf(), FollowCompanion{CompanionLines{"bass", {30}, {-24}}});
        const std::vector<Hit> hits{hitAt(96000), hitAt(108000), hitAt(120000), hitAt(132000)};
        // 20 ms late, none, 40 ms late (too far), two near one line of which the nearer wins.
        const std::vector<SongFrame> attacks{SongFrame{96960}, SongFrame{121920}, SongFrame{131500},
                                             SongFrame{132400}};
        const auto landings = land(session, MusicalMap(session.map, rate), {}, hits, attacks);
        const std::vector<std::int64_t> expected{96960, 108000, 120000, 132400};
        for (std::size_t i = 0; i < hits.size(); ++i)
            QCOMPARE(landings[i].at.frame, expected[i]);
        const auto straight = land(songOf(), MusicalMap(session.map, rate), {}, hits, attacks);
        QCOMPARE(straight[0].at.frame, 96000); // only if it is wanted
    }
    void editsKeepNamesApart() {
        Session session = *edited(songOf(), KeepFeel{laidBack()});
        session = *edited(session, UseFeel{{}, FeelUse{"laid back", 50}});
        session = *edited(session, RenameFeel{"laid back", "lazy"});
        QCOMPARE(session.timing.feel.name, std::string("lazy"));
        Feel other = laidBack();
        other.name = "other";
        session = *edited(session, KeepFeel{other});
        QVERIFY(!edited(session, RenameFeel{"other", "lazy"}));
        session = *edited(session, DeleteFeel{"lazy"});
        QVERIFY(session.timing.feel.straight() && session.feels.size() == 1);
        QVERIFY(!edited(session, FollowCompanion{CompanionLines{"flute", {30}, {-24}}}));
        QVERIFY(!edited(session, KeepFeel{Feel{"empty", 4, {}}}));
    }
    void projectsKeepAllOfIt() {
        Session session = *edited(*edited(songOf(), KeepFeel{laidBack()}), UseFeel{{}, FeelUse{"laid back", 40}});
        session = *edited(session, FollowCompanion{CompanionLines{"bass", {30}, {-20}}});
        session = *edited(session, MakePhrase{{'A', SourceFrame{1000}, SourceFrame{9000}, 30}});
        session = *edited(session, Shove{{'A', {SourceFrame{1000}, SourceFrame{9000}}, FrameCount{-240}}});
        session = *edited(session, Slip{{'A', {SourceFrame{2000}, SourceFrame{9000}}, FrameCount{77}}});
        Correction line{Correction::Kind::line, 'A', SourceFrame{5000}};
        line.moved = FrameCount{1000};
        session = *edited(session, Correct{line});
        Section fill{"Fill", 3, 1, NoteValue{1, 12}, {}};
        fill.beats = BeatRange{2, 2};
        session = *edited(session, SetSections{{fill}, "fill"});
        const MapData map{
            SongFrame{-77}, {{1, {7, 8}}}, {{1, {100}, true}, {2, {120}, false, 2 + 1.0 / 3}, {2, {90}, true, 7}}};
        session = *edited(session, SetMap{map, "map"});
        const auto again = sessionFromText(projectText(session, "/"), "/", "it");
        QVERIFY(again);
        QVERIFY(*again == session);
        std::string disordered = projectText(session, "/");
        const auto beat = disordered.find("\"beat\": 7");
        QVERIFY(beat != std::string::npos);
        disordered[beat + 8] = '1';
        const auto refused = sessionFromText(disordered, "/", "it");
        QVERIFY(!refused && refused.error().sentence.find("tempos") != std::string::npos);
    }
    void feelFiles() {
        const test::TempFolder folder;
        const auto file = folder.path() / "back.lampo-feel";
        QVERIFY(writeFeelFile(file, laidBack()));
        QVERIFY(*readFeelFile(file) == laidBack());
        std::mt19937 random(4);
        const std::string text = feelText(laidBack());
        for (int round = 0; round < 3000; ++round) { // hostile input: a sentence, never a crash
            std::string damaged = text;
            for (int i = 0; i < 3; ++i)
                damaged[random() % damaged.size()] = static_cast<char>(random());
            const auto read = feelFromText(damaged, "it");
            QVERIFY(read ? isFeel(*read) : !read.error().sentence.empty());
        }
        QVERIFY(!readFeelFile(folder.path() / "none.lampo-feel"));
    }
    void midiNotesGiveAFeel() {
        // Standard MIDI Files 1.0: note on is 9n key velocity, velocity 0 is a note off.
        MidiFile midi{480, {{}}};
        auto& track = midi.tracks.front();
        for (std::int64_t bar = 0; bar < 4; ++bar) {
            track.push_back({bar * 1920 + 0, 0x99, 0, {36, 100}});
            track.push_back({bar * 1920 + 60, 0x99, 0, {36, 0}});
            track.push_back({bar * 1920 + 480 + 12, 0x99, 0, {38, 50}});
            track.push_back({bar * 1920 + 960 - 6, 0x99, 0, {36, 100}});
        }
        const auto feel = feelOfMidi(midi, "it", "it");
        QVERIFY(feel);
        QCOMPARE(feel->points.size(), std::size_t{3});
        QVERIFY(std::abs(feel->points[1].late - 12.0 / 480) < 1e-9);
        QVERIFY(std::abs(feel->points[1].level.value + 20 * std::log10(2.0)) < 1e-9);
        QVERIFY(std::abs(feel->points[2].late + 6.0 / 480) < 1e-9);
        QVERIFY(!feelOfMidi(MidiFile{480, {{}}}, "it", "it"));
        const auto barWith = [&](std::string meter) {
            MidiFile other = midi;
            other.tracks.front().insert(other.tracks.front().begin(), {0, 0xFF, midi::meter, std::move(meter)});
            return feelOfMidi(other, "it", "it")->bar;
        };
        QCOMPARE(barWith({7, 3, 24, 8}), 3.5);
        for (const int power : {6, 128, 0xC4}) // no meter, so it counts nothing
            QCOMPARE(barWith({7, static_cast<char>(power), 24, 8}), 4.0);
        QCOMPARE(barWith({static_cast<char>(0xC8), 2, 24, 8}), 4.0);
    }
};

QTEST_GUILESS_MAIN(TestFeel)
#include "tst_feel.moc"
