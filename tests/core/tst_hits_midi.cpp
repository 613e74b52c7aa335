// Hits as notes: where, which key, how loud.
#include "deliver/hits_midi.h"
#include "edits/edit.h"
#include "import/folder_import.h"
#include "midi/tempo_map.h"
#include "midi/tick_clock.h"
#include "support/built_kit.h"
#include "support/takes_rig.h"

#include <QtTest>

#include <cmath>

using namespace lampo;
using namespace lampo::test;

class TestHitsMidi : public QObject {
    Q_OBJECT

    struct Heard {
        double seconds;
        int key, velocity;
    };
    /// The notes of a file as a sequencer of its own computes them: running time, tempo by tempo.
    static std::vector<Heard> play(const MidiFile& file) {
        std::vector<std::pair<std::int64_t, const MidiEvent*>> all;
        for (const auto& track : file.tracks)
            for (const MidiEvent& event : track)
                all.emplace_back(event.tick, &event);
        std::stable_sort(all.begin(), all.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
        std::vector<Heard> notes;
        double now = 0, tempo = 0.5;
        std::int64_t tick = 0;
        for (const auto& [at, event] : all) {
            now += static_cast<double>(at - tick) * tempo / file.ticksPerQuarter;
            tick = at;
            const auto byte = [&data = event->data](std::size_t i) { return static_cast<unsigned char>(data[i]); };
            if (event->isMeta(midi::tempo))
                tempo = (byte(0) * 65536 + byte(1) * 256 + byte(2)) * 1e-6;
            if (event->status == 0x99)
                notes.push_back({now, byte(0), byte(1)});
        }
        return notes;
    }

private slots:
    void notesLieWhereHitsLand_data() {
        QTest::addColumn<unsigned>("seed");
        QTest::addColumn<bool>("landed");
        for (unsigned seed = 1; seed <= 4; ++seed)
            QTest::addRow("seed %u", seed) << seed << (seed % 2 == 0);
    }
    /// Within half a tick (960 a quarter: 0.26 ms at 120 BPM), through tempo changes, an origin and a ramp.
    void notesLieWhereHitsLand() {
        QFETCH(unsigned, seed);
        QFETCH(bool, landed);
        TakesRig rig(seed);
        QVERIFY(rig.edit(SetTempo{{121.7}}));
        QVERIFY(rig.edit(SetOrigin{SongFrame{5000}}));
        rig.session.map.tempos.push_back({4, {133.3}, 1, true});
        rig.session.map.tempos.push_back({7, {90}});
        const auto outcome = rig.outcome();
        const MidiAs as = landed ? MidiAs::landed : MidiAs::played;
        const auto back = midiFromBytes(midiBytes(hitsMidi(rig.session, *outcome, {}, as)), "x");
        QVERIFY(back.has_value());
        const auto notes = play(*back);
        QCOMPARE(notes.size(), notesOf(rig.session, *outcome, {}, as).size());
        QVERIFY(notes.size() >= outcome->hits.size() && outcome->hits.size() > 60);
        double worst = 0;
        for (std::size_t i = 0; i < outcome->hits.size(); ++i) {
            const SongHit& hit = outcome->hits[i];
            const double at =
                static_cast<double>(landed ? outcome->landings[i].at.frame : (hit.anchor + hit.shift).frame) /
                48000;
            const int key = hit.voice == Voice::kick ? 36 : 38;
            double nearest = 1;
            for (const Heard& note : notes)
                if (note.key == key)
                    nearest = std::min(nearest, std::abs(note.seconds - at));
            worst = std::max(worst, nearest);
        }
        qInfo("worst %.3f ms", worst * 1000);
        QVERIFY(worst < 0.5 * 60.0 / 88 / 960 + 1e-6);
    }

    /// General MIDI System Level 1, percussion key map.
    void keysAreThoseOfGeneralMidi() {
        Session session;
        for (const auto& [stem, role] : std::vector<std::pair<std::string, Role>>{{"floor tom", Role::tom},
                                                                                  {"kick", Role::kick},
                                                                                  {"tom 2", Role::tom},
                                                                                  {"snare", Role::snare},
                                                                                  {"tom 1", Role::tom},
                                                                                  {"hat", Role::hat},
                                                                                  {"ride", Role::cymbal},
                                                                                  {"cowbell", Role::other}})
            session.mics.push_back({.stem = stem, .role = role});
        std::vector<int> keys;
        for (MicIndex mic; mic < session.mics.size(); ++mic)
            keys.push_back(usualKey(session, mic));
        QCOMPARE(keys, (std::vector<int>{43, 36, 48, 38, 50, 42, 49, 37}));
    }

    void velocitiesFollowTheCurve() {
        const VelocityCurve usual;
        QCOMPARE(velocityOf(usual, {0}), 100);
        QCOMPARE(velocityOf(usual, {-12.0412}), 50); // a quarter of the amplitude, half of the velocity
        QCOMPARE(velocityOf(usual, {-200}), 1);
        QCOMPARE(velocityOf(usual, {40}), 127);
        QCOMPARE((velocityOf(VelocityCurve{127, 1}, {-6})), 64);
    }

    /// Two drums of one hit are two notes, as far apart as they were struck.
    void drumsOfOneHitKeepTheirDistance() {
        const TempFolder folder;
        buildTake(folder / "A", 'A', 40, {"kick_in", "snare_top", "tom_rack", "tom_floor", "hihat"});
        Session session = *edited(*importFolder(folder / "A"), SetTempo{{104}});
        for (MicIndex mic; mic < session.mics.size(); ++mic)
            session.mics[mic].guide = true;
        Analyses analyses;
        QVERIFY(analyseMissing(session, analyses, Listen::toWitnesses, {}).has_value());
        const auto outcome = outcomeOf(session, analyses);
        const auto notes = notesOf(session, *outcome, {}, MidiAs::landed);
        std::size_t others = 0, apart = 0;
        for (std::size_t i = 0; i < outcome->hits.size(); ++i) {
            const SongHit& hit = outcome->hits[i];
            for (const Stroke& stroke : outcome->takes[hit.take]->strokes->strokes) {
                if (stroke.at < hit.first || stroke.at > hit.last || stroke.mic == hit.mic ||
                    (hit.detectedBy & onlyMic(stroke.mic)) == 0)
                    continue;
                const FrameCount distance = stroke.at - hit.anchor;
                ++others;
                apart += distance != FrameCount{} ? 1 : 0;
                QVERIFY(std::any_of(notes.begin(), notes.end(), [&](const DrumNote& note) {
                    return note.key == usualKey(session, stroke.mic) &&
                           note.at == outcome->landings[i].at + distance;
                }));
            }
        }
        qInfo("%zu notes beside the anchor's, %zu of them apart from it", others, apart);
        QVERIFY(others > 20 && apart > 10);
        QVERIFY(notes.size() >= outcome->hits.size() + others - 2);
    }

    /// One drum of two mics is one note.
    void micsOfOneDrumAreOneNote() {
        TakesRig rig(5);
        QVERIFY(rig.edit(SetTempo{{120}}));
        rig.session.mics[0].group = rig.session.mics[1].group = "one drum";
        rig.session.mics[1].role = Role::kick;
        const auto joined = rig.outcome();
        const auto fewer = notesOf(rig.session, *joined, {}, MidiAs::landed);
        QCOMPARE(fewer.size(), joined->hits.size());
        QVERIFY(std::all_of(fewer.begin(), fewer.end(), [](const DrumNote& note) { return note.key == 36; }));
    }

    void namedKeysCount() {
        TakesRig rig(5);
        const auto outcome = rig.outcome();
        MidiSettings settings;
        settings.keys["kick"] = 24;
        const auto notes = notesOf(rig.session, *outcome, settings, MidiAs::landed);
        QVERIFY(std::any_of(notes.begin(), notes.end(), [](const DrumNote& note) { return note.key == 24; }));
        QVERIFY(std::none_of(notes.begin(), notes.end(), [](const DrumNote& note) { return note.key == 36; }));
    }
};

QTEST_GUILESS_MAIN(TestHitsMidi)
#include "tst_hits_midi.moc"
