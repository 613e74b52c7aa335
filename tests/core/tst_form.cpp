#include "session/pieces.h"
#include "support/takes_rig.h"

#include <QtTest>

using namespace lampo;
using namespace lampo::test;

/// How the song goes through the recorded time, and what moves along when bars come and go.
class TestForm : public QObject {
    Q_OBJECT
private slots:
    void theFormGoesThroughTheRecordedTime() {
        // Bars as letters: what sounds where after bars were inserted, repeated and deleted.
        TakesRig rig(1);
        const auto song = [&] {
            std::string letters;
            const MusicalMap map(rig.session.map, rig.session.rate);
            for (const Piece& piece : piecesOf(rig.session))
                for (std::int64_t at = piece.range.begin.frame; at < piece.range.end.frame; at += TakesRig::bar)
                    letters +=
                        piece.take ? static_cast<char>('a' + (at - piece.shift.by.frames) / TakesRig::bar) : '-';
            return letters;
        };
        QCOMPARE(song(), std::string("abcdefghijklm"));
        QVERIFY(rig.edit(RepeatBars{3, 2}));
        QCOMPARE(song(), std::string("abcdcdefghijklm"));
        QVERIFY(rig.edit(DeleteBars{2, 3}));
        QCOMPARE(song(), std::string("acdefghijklm"));
        QVERIFY(rig.edit(InsertBars{4, 2}));
        QCOMPARE(song(), std::string("acd--efghijklm"));
        // A graft of bar b into the empty ones, and it moves along with what is inserted before it.
        QVERIFY(rig.edit(Lay{TakesRig::barsOf(4, 5), TakeIndex{1}, FrameCount{2 * TakesRig::bar}}));
        QCOMPARE(song(), std::string("acdb-efghijklm"));
        QVERIFY(rig.edit(InsertBars{2, 1}));
        QCOMPARE(song(), std::string("a-cdb-efghijklm"));
        QVERIFY(rig.edit(DeleteBars{13, 3}));
        QCOMPARE(song(), std::string("a-cdb-efghij"));
        // Any take can be swapped in anywhere, and lies as the song goes now.
        QVERIFY(rig.edit(Lay{TakesRig::barsOf(3, 9), TakeIndex{2}}));
        QCOMPARE(song(), std::string("a-cd--efghij"));
    }
    void mapSectionsAndRatingsMoveWithTheBars() {
        TakesRig rig(1);
        rig.session.map.meters = {{1, {4, 4}}, {5, {2, 4}}, {6, {4, 4}}};
        rig.session.map.tempos = {{1, {120}}, {9, {100}}};
        rig.session.sections = {{"Pier", 1, 4, {}, {}}, {"Sea", 5, 4, {}, {}}};
        QVERIFY(rig.edit(Rate{'B', 6, 1, 3}));
        QVERIFY(rig.edit(RepeatBars{4, 2})); // a 4/4 and a 2/4 bar
        const std::vector<MeterChange> meters{{1, {4, 4}}, {5, {2, 4}}, {6, {4, 4}}, {7, {2, 4}}, {8, {4, 4}}};
        QVERIFY(rig.session.map.meters == meters);
        QCOMPARE(rig.session.map.tempos[1].bar, 11);
        QCOMPARE(rig.session.sections[0].bars, 4);
        QCOMPARE(rig.session.sections[1].bars, 6);
        QCOMPARE(rig.session.marksOf({'B'}, 8), 3);
        QCOMPARE(rig.session.length().frames, 13 * TakesRig::bar + TakesRig::bar * 3 / 2);
        QVERIFY(rig.edit(DeleteBars{1, 6}));
        QCOMPARE(rig.session.map.meters.front().meter.beats, 2);
        QCOMPARE(rig.session.sections.size(), std::size_t{1});
        QCOMPARE(rig.session.sections[0].firstBar, 1);
        QCOMPARE(rig.session.sections[0].bars, 4);
    }

    void bordersStayOnTheirLinesWhenTheMapChanges() {
        TakesRig rig(1);
        QVERIFY(rig.edit(Lay{TakesRig::barsOf(5, 8), TakeIndex{1}}));
        QVERIFY(rig.edit(SetBorderFade{TakesRig::barsOf(5, 8).begin, Milliseconds{30}}));
        QVERIFY(rig.edit(Lay{{SongFrame{12345}, SongFrame{54321}}, TakeIndex{2}})); // on no line
        QVERIFY(rig.edit(KeepTry{TakesRig::barsOf(5, 8)}));
        QVERIFY(rig.edit(SetTempo{{121}}));
        QVERIFY(rig.edit(SetOrigin{SongFrame{700}}));
        // A quarter note lasts 60 / 121 s.
        const auto bar = [](int number) {
            return SongFrame{700 + std::llround((number - 1) * 240.0 / 121 * 48000)};
        };
        const auto& passages = rig.session.comp.passages;
        QCOMPARE(passages.size(), std::size_t{5});
        QCOMPARE(passages[1].begin.frame, std::int64_t{12345});
        QCOMPARE(passages[2].begin.frame, std::int64_t{54321});
        QVERIFY(passages[3].begin == bar(5) && passages[4].begin == bar(8));
        QVERIFY(rig.session.comp.fadeAt(bar(5)).has_value());
        QVERIFY(rig.session.tries[0].range.begin == bar(5) && rig.session.tries[0].range.end == bar(8));
        QVERIFY(rig.edit(SetTempo{{120}}) && rig.edit(SetOrigin{SongFrame{0}}));
        QCOMPARE(rig.session.comp.passages[3].begin.frame, TakesRig::barsOf(5, 8).begin.frame);
    }
};

QTEST_APPLESS_MAIN(TestForm)
#include "tst_form.moc"
