#include "edits/edit.h"
#include "import/folder_import.h"
#include "project/project_json.h"
#include "session/bars.h"
#include "session/pieces.h"
#include "session/validate.h"
#include "support/random_timing_edit.h"

#include <QtTest>

#include <random>

using namespace lampo;

namespace {

Session smallSession() {
    Session session;
    session.title = "Quay";
    session.mics = kitOf({"kick", "snare", "tom 1", "oh l"});
    Take take{'A', "/takes/A", {}, {}, {480000}};
    for (const Mic& mic : session.mics)
        take.files.emplace_back(take.folder / (mic.stem + ".wav"), 0, FrameCount{}, take.length);
    session.takes = {take, take};
    session.takes[1].letter = {'B'};
    session.sections = {{"Pier", 1, 4, {}, {}}};
    session.companions = {{"bass", "/bass.wav", {}, false}};
    return session;
}

/// Often one that is refused.
Patch randomPatch(std::mt19937& random) {
    const auto whole = [&](int low, int high) { return std::uniform_int_distribution<>(low, high)(random); };
    const auto real = [&](double low, double high) { return std::uniform_real_distribution<>(low, high)(random); };
    Patch patch;
    patch.kind = static_cast<PatchKind>(whole(0, 5));
    patch.mics = whole(0, 4) ? std::vector<std::string>{"kick"} : std::vector<std::string>{"kick", "gong"};
    patch.at = {whole(0, 5) ? 'A' : 'Q', {whole(-99, 99999)}};
    patch.ofHit = whole(0, 1) == 1;
    patch.before = {whole(-99, 999)};
    patch.length = {whole(-1, 9999)};
    patch.fadeIn = {real(0.05, 60)};
    patch.gain = {real(-62, 25)};
    patch.shift = {whole(-99, 99)};
    if (whole(0, 2) == 0)
        patch.from = TakePlace{'A', {whole(0, 999)}};
    patch.on = whole(0, 3) > 0;
    return patch;
}

Edit randomEdit(std::mt19937& random) {
    const auto whole = [&](int low, int high) { return std::uniform_int_distribution<>(low, high)(random); };
    const auto real = [&](double low, double high) { return std::uniform_real_distribution<>(low, high)(random); };
    const auto mic = static_cast<std::size_t>(whole(0, 4)); // 4 does not exist
    const auto range = [&] {
        const SongFrame begin{whole(-100, 480000)};
        return Range<SongFrame>{begin, begin + FrameCount{whole(0, 200000)}};
    };
    switch (whole(0, 50)) {
    case 50:
        return SetFarShift{{real(0, 60)}};
    case 44:
        return SetSectionLeadIn{static_cast<std::size_t>(whole(0, 2)),
                                whole(0, 1) ? std::optional(Milliseconds{real(-1, 60)}) : std::nullopt};
    case 45:
        return SetSectionFill{static_cast<std::size_t>(whole(0, 2)),
                              whole(0, 2) ? std::optional(static_cast<Fill>(whole(0, 2))) : std::nullopt};
    case 46:
        return SetMostStretch{real(0.9, 9)};
    case 47:
        return AddPatches{{randomPatch(random)}};
    case 48:
        return ChangePatches{{{static_cast<std::size_t>(whole(0, 3)), randomPatch(random)}}};
    case 49:
        return whole(0, 1)
                   ? Edit{PatchEdit{DeletePatches{{static_cast<std::size_t>(whole(0, 3))}}}}
                   : Edit{PatchEdit{SwitchPatches{{static_cast<std::size_t>(whole(0, 3))}, whole(0, 1) == 1}}};
    case 42:
        return SetFadeCurve{static_cast<FadeCurve>(whole(0, 3))};
    case 43: {
        SeamByHand seam{{'A', SourceFrame{whole(0, 3) * 1000}, SourceFrame{whole(4, 6) * 1000}}, {}, {}, {}, {}};
        if (whole(0, 1))
            seam.ahead = FrameCount{whole(-100, 3000)};
        if (whole(0, 2) == 0)
            seam.fade = Milliseconds{real(0, 60)};
        if (whole(0, 2) == 0)
            seam.curve = static_cast<FadeCurve>(whole(0, 3));
        if (whole(0, 2) == 0)
            seam.fill = Fill::open;
        return ShapeSeams{{seam}};
    }
    case 0:
        return SetTempo{{real(5, 1200)}};
    case 1:
        return SetMeter{{whole(0, 33), 1 << whole(0, 6)}};
    case 2:
        return SetOrigin{{whole(-9999, 9999)}};
    case 3:
        return SetGrid{{1, whole(1, 48)}};
    case 4:
        return SetStrength{real(-10, 110)};
    case 5:
        return SetLeadIn{{real(-1, 60)}};
    case 6:
        return SetFade{{real(0, 60)}};
    case 7:
        return SetFill{static_cast<Fill>(whole(0, 2))};
    case 8:
        return SetGuide{mic, whole(0, 1) == 1};
    case 9:
        return SetThreshold{mic, {real(-70, 5)}};
    case 10:
        return MoveMic{mic, static_cast<std::size_t>(whole(0, 4))};
    case 11:
        return ChooseTake{static_cast<std::size_t>(whole(0, 2))};
    case 12:
        return SetRole{mic, allRoles[whole(0, 7)]};
    case 13:
        return SetSolo{mic, whole(0, 1) == 1};
    case 14:
        return DeleteCorrections{{{'A', {whole(0, 9999)}}}};
    case 15:
        return SetBleedJudging{mic, whole(0, 1) == 1};
    case 16:
        return SetEmphasis{mic, whole(0, 1) ? std::optional(BandWeights{real(0, 1), 0.5, 1, real(0.05, 1.2)})
                                            : std::nullopt};
    case 17:
        return SetSectionDetection{static_cast<std::size_t>(whole(0, 1)),
                                   {whole(0, 5) ? "kick" : "gong", Decibels{real(-70, 5)}, {}, whole(0, 1) == 1}};
    case 18:
        return SetFinest{whole(0, 1) ? std::optional<std::size_t>(whole(0, 1)) : std::nullopt,
                         Finest{{1, 8}, {real(0, 600)}}};
    case 19:
        return SetLabel{mic, whole(0, 1) ? "Boom" : ""};
    case 20:
        return SetGroup{mic, whole(0, 1) ? "pair" : "", whole(0, 1) == 1};
    case 21:
        return SetOffsets{static_cast<std::size_t>(whole(0, 2)), {FrameCount{whole(-99, 99)}, {}, {}, {}}};
    case 22:
        return ArrangeKit{kitOf({"tom 1", "gong", "kick"})};
    case 23:
    case 24:
    case 25:
        return Lay{range(),
                   whole(0, 3) ? std::optional(TakeIndex{static_cast<std::size_t>(whole(0, 2))}) : std::nullopt,
                   whole(0, 2) ? std::nullopt : std::optional(FrameCount{whole(-99999, 99999)})};
    case 26:
        return MoveBorder{static_cast<std::size_t>(whole(0, 5)), {whole(0, 480000)}};
    case 27:
        return SetBorderFade{{whole(0, 480000)}, Milliseconds{real(0, 600)}};
    case 28:
        return InsertBars{whole(0, 6), whole(0, 2)};
    case 29:
        return RepeatBars{whole(0, 6), whole(0, 2)};
    case 30:
        return DeleteBars{whole(0, 6), whole(0, 2)};
    case 31:
        return SetTakeStart{static_cast<std::size_t>(whole(0, 2)), {whole(-9999, 9999)}};
    case 32:
        return Rate{whole(0, 1) ? 'A' : 'C', whole(-1, 9), whole(0, 3), whole(-1, 4)};
    case 33:
        return KeepTry{range()};
    case 34:
        return LayTry{static_cast<std::size_t>(whole(0, 3))};
    case 35:
        return DeleteTry{static_cast<std::size_t>(whole(0, 9))};
    case 36:
        return KeepVersion{whole(0, 3) ? "rough" : "", "", {}};
    case 37:
        return RestoreVersion{static_cast<std::size_t>(whole(0, 3))};
    case 38:
        return DeleteVersion{static_cast<std::size_t>(whole(0, 20))};
    case 39:
        return SetClusters{{{real(-10, 110)}, static_cast<Anchor>(whole(0, 2))}};
    default:
        return Correct{{static_cast<Correction::Kind>(whole(0, correctionKinds - 1)),
                        'A',
                        {whole(0, 99999)},
                        {whole(0, 99999)},
                        Voice::snare}};
    }
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
        session.takes = {{'A', {}, {{}}, {}, {48000 * 60}}};
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
            const Edit edit = random() % 3 ? randomEdit(random) : test::randomTimingEdit(random);
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
        session.takes[0].length = {std::int64_t{1} << 40};
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
        QVERIFY(check(limits::borderFade, [](Session& s, double x) { s.comp.fades = {{{0}, {x}}}; }));
        QVERIFY(check(limits::ease, [](Session& s, double x) { s.phrases = {{'A', {0}, {10}, x}}; }));
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
            session.corrections.push_back({Correction::Kind::pin, 'A', {150 * hit}});
        const std::size_t pieces = session.corrections.shared(session.corrections).second;
        QVERIFY(pieces > 40);
        const auto stronger = edited(session, SetStrength{80});
        QCOMPARE(stronger->corrections.shared(session.corrections), std::pair(pieces, pieces));
        const auto marked = edited(session, Correct{{Correction::Kind::remove, 'A', {150 * 1700}}});
        QVERIFY(marked->corrections.shared(session.corrections).first >= pieces - 2);
        for (std::size_t take = 0; take < 2; ++take)
            QCOMPARE(marked->takes[take].files.shared(session.takes[take].files),
                     (std::pair<std::size_t, std::size_t>{1, 1}));
    }
    void aCorrectionReplacesTheOneBefore() {
        Session session = smallSession();
        session = *edited(session, Correct{{Correction::Kind::pin, 'A', {10000}, {}, Voice::kick}});
        session = *edited(session, Correct{{Correction::Kind::remove, 'A', {10100}, {}, Voice::kick}});
        QCOMPARE(session.corrections.size(), std::size_t{1});
        session = *edited(session, Correct{{Correction::Kind::pin, 'B', {10100}, {}, Voice::kick}});
        QCOMPARE(session.corrections.size(), std::size_t{2}); // another take's are its own
    }
};

QTEST_APPLESS_MAIN(TestSession)
#include "tst_session.moc"
