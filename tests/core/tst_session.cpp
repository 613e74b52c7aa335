#include "edits/edit.h"
#include "import/folder_import.h"
#include "project/project_json.h"
#include "session/bars.h"
#include "session/pieces.h"
#include "session/validate.h"
#include "support/random_edit.h"
#include "support/random_timing_edit.h"

#include <QtTest>

#include <random>

using namespace lampo;

namespace {

Session smallSession() {
    Session session;
    session.title = "Quay";
    session.mics = kitOf({"kick", "snare", "tom 1", "oh l"});
    Take take{'A', "/takes/A", {}, {}, FrameCount{480000}};
    for (const Mic& mic : session.mics)
        take.files.emplace_back(take.folder / (mic.stem + ".wav"), 0, FrameCount{}, take.length);
    session.takes = {take, take};
    session.takes[1].letter = {'B'};
    session.sections = {{"Pier", 1, 4, {}, {}}};
    session.companions = {{"bass", "/bass.wav", {}, false}};
    return session;
}

} // namespace

class TestSession : public QObject {
    Q_OBJECT

    /// Passages, form and pieces go from zero onwards, speak of takes that exist, and pieces tile the song.
    static void checkComp(const Session& session) {
        const auto ascends = [](const auto& parts) {
            return std::adjacent_find(parts.begin(), parts.end(),
                                      [](auto& a, auto& b) { return a.begin >= b.begin; }) == parts.end();
        };
        QVERIFY(ascends(session.comp.passages) && session.comp.passages.front().begin == SongFrame{0});
        QVERIFY(ascends(session.form) && session.form.front().begin == SongFrame{0});
        for (const Passage& passage : session.comp.passages)
            QVERIFY(!passage.take || *passage.take < session.takes.size());
        SongFrame end{0};
        for (const Piece& piece : piecesOf(session)) {
            QCOMPARE(piece.range.begin, end);
            QVERIFY(!piece.range.empty());
            end = piece.range.end;
        }
        QCOMPARE(end.frame, session.length().frames);
        for (const Section& section : session.sections)
            QVERIFY(section.bars > 0);
    }

    /// What is done by hand does not overlap, and what is in use is there.
    static void checkByHand(const Session& session) {
        for (const auto* moves : {&session.shoves, &session.slips})
            for (std::size_t i = 0; i < moves->size(); ++i) {
                const PassageMove& move = (*moves)[i];
                QVERIFY(!move.range.empty() && move.by != FrameCount{});
                QVERIFY(i == 0 || (*moves)[i - 1].take != move.take ||
                        (*moves)[i - 1].range.end <= move.range.begin);
            }
        for (std::size_t i = 1; i < session.phrases.size(); ++i)
            QVERIFY(session.phrases[i - 1].take != session.phrases[i].take ||
                    session.phrases[i - 1].last <= session.phrases[i].first);
        const auto isKept = [&](const FeelUse& use) { return use.straight() || session.feelNamed(use.name); };
        QVERIFY(isKept(session.timing.feel));
        for (const Section& section : session.sections)
            QVERIFY(!section.feel || isKept(*section.feel));
        for (std::size_t a = 0; a < session.sections.size(); ++a)
            for (std::size_t b = 0; b < a; ++b)
                QVERIFY(!overlap(session.sections[a], session.sections[b]));
    }

private slots:
    void bordersOfSectionsMove() {
        const std::vector<Section> before{{"Pier", 1, 4, {}, {}}, {"Mole", 5, 4, {}, {}}, {"Quay", 12, 2, {}, {}}};
        const auto bars = [](const std::vector<Section>& sections) {
            std::vector<std::pair<int, int>> all;
            for (const Section& section : sections)
                all.emplace_back(section.firstBar, section.bars);
            return all;
        };
        using Bars = std::vector<std::pair<int, int>>;
        QCOMPARE(bars(withBorderMoved(before, 5, 7)), (Bars{{1, 6}, {7, 2}, {12, 2}}));
        QCOMPARE(bars(withBorderMoved(before, 5, 20)), (Bars{{1, 7}, {8, 1}, {12, 2}})); // each keeps a bar
        QCOMPARE(bars(withBorderMoved(before, 9, 30)), (Bars{{1, 4}, {5, 7}, {12, 2}})); // up to the next
        QCOMPARE(bars(withBorderMoved(before, 12, 3)), (Bars{{1, 4}, {5, 4}, {9, 5}}));
        const auto split = withSplit(before, 3);
        QCOMPARE(bars(split), (Bars{{1, 2}, {3, 2}, {5, 4}, {12, 2}}));
        QCOMPARE(split[1].name, std::string("Pier 2"));
        QVERIFY(withSplit(before, 5) == before); // no bar line inside
    }
    void changesInsideBarsGoWithThem() {
        Session session;
        session.rate = {48000};
        session.mics = {{"kick"}};
        session.takes = {{'A', {}, {{}}, {}, FrameCount{48000 * 60}}};
        session.map.tempos = {{1, {100}}, {3, {120}, false, 2.5}, {3, {80}, false, 4}, {5, {90}}};
        // Bar 3 again begins and changes as it did.
        const std::vector<TempoChange> repeated{{1, {100}}, {3, {120}, false, 2.5}, {3, {80}, false, 4},
                                                {4, {100}}, {4, {120}, false, 2.5}, {4, {80}, false, 4},
                                                {6, {90}}};
        QVERIFY(withBars(session, 4, 1, true).map.tempos == repeated);
        const std::vector<TempoChange> dropped{{1, {100}}, {3, {80}}, {4, {90}}};
        QVERIFY(withoutBars(session, 3, 1).map.tempos == dropped);
        const std::vector<TempoChange> later{{1, {100}}, {5, {120}, false, 2.5}, {5, {80}, false, 4}, {7, {90}}};
        QVERIFY(withBars(session, 2, 2, false).map.tempos == later);
    }
    void editsAreValues() {
        const Session before = smallSession();
        const Session copy = before;
        const auto after = edited(before, SetStrength{50});
        QVERIFY(after && after->timing.strength == 50);
        QVERIFY(before == copy);
    }
    void refusalsSayTheRange() {
        const auto refused = edited(smallSession(), SetStrength{120});
        QVERIFY(!refused);
        QCOMPARE(refused.error().kind, ErrorKind::badValue);
        QVERIFY(refused.error().sentence.find("from 0 to 100") != std::string::npos);
        QVERIFY(!edited(smallSession(), SetTempo{{std::nan("")}}));
        QVERIFY(!edited(smallSession(), SetMeter{{4, 3}}));
        QVERIFY(!edited(smallSession(), SetGuide{9, true}));
    }
    void randomEditsKeepTheSessionWhole() {
        // Whatever is asked for, either it is refused or the session stays consistent; going back through what was
        // kept gives the identical session.
        std::mt19937 random(7);
        std::vector<Session> history{smallSession()};
        int refused = 0;
        for (int i = 0; i < 4000; ++i) {
            const Edit edit = random() % 3 ? test::randomEdit(random) : test::randomTimingEdit(random);
            QVERIFY(!describe(history.back(), edit).empty());
            auto next = edited(history.back(), edit);
            if (!next) {
                ++refused;
                continue;
            }
            checkComp(*next);
            for (const Take& take : next->takes)
                for (std::size_t mic = 0; mic < next->mics.size(); ++mic)
                    QCOMPARE(take.files[mic].file.stem().string(), next->mics[mic].stem);
            checkByHand(*next);
            if (i % 20 == 0) { // what can be made can be saved and opened again
                const auto back = sessionFromText(projectText(*next, "/"), "/", "x");
                QVERIFY2(back.has_value(), back ? "" : back.error().sentence.c_str());
                QCOMPARE(projectText(*back, "/"), projectText(*next, "/"));
            }
            QVERIFY(std::is_sorted(next->corrections.begin(), next->corrections.end(),
                                   [](auto& a, auto& b) { return a.at < b.at; }));
            history.push_back(std::move(*next));
        }
        QVERIFY(refused > 100);
        QVERIFY(history.front() == smallSession());
    }
    void whatCouldNotBeOpenedAgainIsRefused() {
        const std::string tooLong(5000, 'x');
        Session session = smallSession();
        for (const Edit& edit :
             {Edit(SetLabel{0, tooLong}), Edit(SetGroup{0, tooLong, false}), Edit(KeepVersion{tooLong, "", {}})}) {
            const auto refused = edited(session, edit);
            QVERIFY(!refused);
            QCOMPARE(refused.error().kind, ErrorKind::badValue);
            QVERIFY(refused.error().sentence.find("4096") != std::string::npos);
        }
        session.mics[1].stem = session.mics[0].stem;
        QVERIFY(!validate(session));
        for (const char* stem : {"", ".", "..", "../rec/kick", "/rec/kick", "a\nb"}) {
            session = smallSession();
            session.mics[0].stem = stem;
            QVERIFY2(!validate(session), stem);
        }
        session = smallSession();
        session.takes[0].length = FrameCount{std::int64_t{1} << 40};
        QVERIFY(!validate(session));
        session = smallSession();
        session.map.tempos.assign(limits::changes + 1, {1, {100}});
        QVERIFY(!validate(session));
        QVERIFY(validate(smallSession()));
    }
    void settingsOutOfTheirRangeAreRefused() {
        using Change = std::function<void(Session&, double)>;
        const auto check = [](const limits::Setting& setting, const Change& set) {
            const auto isValid = [&](double value) {
                Session session = smallSession();
                session.sections.resize(1);
                set(session, value);
                return validate(session).has_value();
            };
            return isValid(setting.low) && isValid(setting.high) && !isValid(setting.low - 0.001) &&
                   !isValid(setting.high + 0.001) && !isValid(std::nan(""));
        };
        QVERIFY(check(limits::threshold, [](Session& s, double x) { s.mics[0].threshold = {x}; }));
        QVERIFY(check(limits::shortestGap, [](Session& s, double x) { s.mics[0].shortestGap = {x}; }));
        QVERIFY(check(limits::level, [](Session& s, double x) { s.mics[0].level = {x}; }));
        QVERIFY(check(limits::bandWeight, [](Session& s, double x) {
            s.mics[0].emphasis = BandWeights{1, 1, 1, x};
        }));
        QVERIFY(check(limits::tempo, [](Session& s, double x) { s.map.tempos[0].bpm = {x}; }));
        QVERIFY(check(limits::strength, [](Session& s, double x) { s.timing.strength = x; }));
        QVERIFY(check(limits::swing, [](Session& s, double x) { s.timing.swing = x; }));
        QVERIFY(check(limits::pocket, [](Session& s, double x) { s.timing.pocket = {x}; }));
        QVERIFY(check(limits::reach, [](Session& s, double x) { s.timing.reach = Reach{x, false}; }));
        QVERIFY(check(limits::reachInSteps, [](Session& s, double x) { s.timing.reach = Reach{x, true}; }));
        QVERIFY(check(limits::feelAmount, [](Session& s, double x) { s.timing.feel.amount = x; }));
        QVERIFY(check(limits::nearFinest, [](Session& s, double x) { s.finest = Finest{{1, 16}, {x}}; }));
        QVERIFY(check(limits::oneHit, [](Session& s, double x) { s.clusters.window = {x}; }));
        QVERIFY(check(limits::leadIn, [](Session& s, double x) { s.seams.leadIn = {x}; }));
        QVERIFY(check(limits::fade, [](Session& s, double x) { s.seams.fade = {x}; }));
        QVERIFY(check(limits::leadIn, [](Session& s, double x) { s.sections[0].leadIn = Milliseconds{x}; }));
        QVERIFY(check(limits::stretch, [](Session& s, double x) { s.seams.mostStretch = x; }));
        QVERIFY(check(limits::farShift, [](Session& s, double x) { s.seams.farShift = {x}; }));
        QVERIFY(check(limits::borderFade, [](Session& s, double x) { s.comp.fades = {{SongFrame{0}, {x}}}; }));
        QVERIFY(check(limits::ease, [](Session& s, double x) {
            s.phrases = {{'A', SourceFrame{0}, SourceFrame{10}, x}};
        }));
        QVERIFY(check(limits::companionNear, [](Session& s, double x) { s.companionLines = {{"bass", {x}}}; }));
        QVERIFY(check(limits::strength, [](Session& s, double x) { s.sections[0].strength = x; }));
        QVERIFY(check(limits::swing, [](Session& s, double x) { s.sections[0].swing = x; }));
        QVERIFY(check(limits::pocket, [](Session& s, double x) { s.sections[0].pocket = Milliseconds{x}; }));
        QVERIFY(check(limits::threshold, [](Session& s, double x) {
            s.sections[0].detection = {{s.mics[0].stem, Decibels{x}, {}, {}}};
        }));
        QVERIFY(check(limits::shortestGap, [](Session& s, double x) {
            s.sections[0].detection = {{s.mics[0].stem, {}, Milliseconds{x}, {}}};
        }));
    }
    /// Undo keeps every session: what an edit leaves alone costs nothing.
    void sessionsShareWhatDidNotChange() {
        Session session = smallSession();
        for (std::int64_t hit = 0; hit < 3000; ++hit)
            session.corrections.push_back({Correction::Kind::pin, 'A', SourceFrame{150 * hit}});
        const std::size_t pieces = session.corrections.shared(session.corrections).second;
        QVERIFY(pieces > 40);
        const auto stronger = edited(session, SetStrength{80});
        QCOMPARE(stronger->corrections.shared(session.corrections), std::pair(pieces, pieces));
        const auto marked = edited(session, Correct{{Correction::Kind::remove, 'A', SourceFrame{150 * 1700}}});
        QVERIFY(marked->corrections.shared(session.corrections).first >= pieces - 2);
        for (std::size_t take = 0; take < 2; ++take)
            QCOMPARE(marked->takes[take].files.shared(session.takes[take].files),
                     (std::pair<std::size_t, std::size_t>{1, 1}));
    }
    void aCorrectionReplacesTheOneBefore() {
        Session session = smallSession();
        session = *edited(session, Correct{{Correction::Kind::pin, 'A', SourceFrame{10000}, {}, Voice::kick}});
        session = *edited(session, Correct{{Correction::Kind::remove, 'A', SourceFrame{10100}, {}, Voice::kick}});
        QCOMPARE(session.corrections.size(), std::size_t{1});
        session = *edited(session, Correct{{Correction::Kind::pin, 'B', SourceFrame{10100}, {}, Voice::kick}});
        QCOMPARE(session.corrections.size(), std::size_t{2}); // another take's are its own
    }
};

QTEST_APPLESS_MAIN(TestSession)
#include "tst_session.moc"
