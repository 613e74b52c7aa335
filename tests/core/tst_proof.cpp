#include "proof/entries.h"
#include "proof/plan_places.h"
#include "proof/proof.h"
#include "proof/remedies.h"
#include "support/given_song.h"

#include <QtTest>

using namespace lampo;

namespace {

struct Song : test::GivenSong {
    using GivenSong::GivenSong;
    /// But for the map, of which eighths alone say little.
    std::vector<ProofPlace> places() const {
        auto all = placesWithoutListening(session, *outcome());
        std::erase_if(all, [](const ProofPlace& place) { return place.kind == ProofKind::map; });
        return all;
    }
    std::vector<ProofPlace> placesOf(ProofKind kind) const {
        auto all = places();
        std::erase_if(all, [&](const ProofPlace& place) { return place.kind != kind; });
        return all;
    }
};

constexpr auto stroke = test::givenStroke;

/// Eighths, each a little off.
std::vector<Candidate> eighths(int count, std::int64_t off = 100) {
    std::vector<Candidate> all;
    for (int i = 1; i <= count; ++i)
        all.push_back(stroke(12000 * i + (i % 2 == 0 ? off : -off)));
    return all;
}

} // namespace

/// What the proof tells of hits and plan without listening, what was said of it, and what can be done about it.
class TestProof : public QObject {
    Q_OBJECT
private slots:
    void aCleanEditHasNothingToSay() {
        const auto places = Song(eighths(40)).places();
        QVERIFY2(places.empty(), places.empty() ? "" : places.front().text.c_str());
    }

    void theScaleRisesFromToldToRuinous() {
        for (std::size_t k = 0; k < proofKindNames.count; ++k) {
            const auto kind = static_cast<ProofKind>(k);
            const ProofScale& scale = scaleOf(kind);
            QVERIFY(scale.told < scale.plain && scale.plain < scale.ruinous);
            QCOMPARE(gravityOf(kind, scale.told), 2.0);
            QCOMPARE(gravityOf(kind, scale.plain), 5.0);
            QCOMPARE(gravityOf(kind, scale.ruinous), 9.0);
            QCOMPARE(gravityOf(kind, 1e9), 10.0);
            double last = -1;
            for (int step = 0; step <= 100; ++step) {
                const double gravity = gravityOf(kind, scale.ruinous * 1.2 * step / 100);
                QVERIFY(gravity >= last);
                last = gravity;
            }
        }
    }

    void aHitOnTheNextLine() {
        Song song(eighths(40));
        song.edit(DetectionEdit{Correct{{Correction::Kind::line, TakeLetter{'A'}, SourceFrame{12000 * 20 + 100},
                                         FrameCount{6000}, Voice::kick}}});
        const auto wrong = song.placesOf(ProofKind::wrongLine);
        QCOMPARE(wrong.size(), std::size_t{1});
        QVERIFY(std::abs(wrong.front().where.begin.frame - (12000 * 20 + 6000)) < 200);
        QVERIFY(wrong.front().gravity() > 5);
        // The button that puts it back.
        const auto remedies = remediesFor(song.session, *song.outcome(), wrong.front());
        const auto before = std::find_if(remedies.begin(), remedies.end(),
                                         [](const Remedy& remedy) { return remedy.label == "Line before"; });
        QVERIFY(before != remedies.end());
        song.edit(before->edit);
        QVERIFY(song.placesOf(ProofKind::wrongLine).empty());
    }

    /// Three in a row on the lines behind theirs are one place, and one button puts them back.
    void aRunOnOtherLines() {
        Song song(eighths(40));
        for (int i = 20; i < 23; ++i)
            song.edit(DetectionEdit{
                Correct{{Correction::Kind::line, TakeLetter{'A'},
                         SourceFrame{12000 * i + (i % 2 == 0 ? 100 : -100)}, FrameCount{6000}, Voice::kick}}});
        const auto wrong = song.placesOf(ProofKind::wrongLine);
        QVERIFY(!wrong.empty());
        QCOMPARE(wrong.front().hits, std::size_t{3});
        const auto remedies = remediesFor(song.session, *song.outcome(), wrong.front());
        QVERIFY(!remedies.empty());
        QCOMPARE(remedies.front().label, std::string("Line before"));
        song.edit(remedies.front().edit);
        QVERIFY(song.placesOf(ProofKind::wrongLine).empty());
    }

    void aFlamThatWasNone() {
        // A snare 30 ms behind its kick: two hits; one of them is placed 8 ms farther.
        auto kicks = eighths(30, 0);
        std::vector<Candidate> snares{stroke(12000 * 10 + 1440)};
        Song song(std::move(kicks), std::move(snares));
        song.edit(DetectionEdit{
            Correct{{Correction::Kind::pin, TakeLetter{'A'}, SourceFrame{12000 * 10}, {}, Voice::kick}}});
        song.edit(DetectionEdit{
            Correct{{Correction::Kind::pin, TakeLetter{'A'}, SourceFrame{12000 * 10 + 1440}, {}, Voice::snare}}});
        QVERIFY(song.placesOf(ProofKind::flam).empty());
        song.edit(DetectionEdit{Correct{{Correction::Kind::place, TakeLetter{'A'}, SourceFrame{12000 * 10 + 1440},
                                         FrameCount{384}, Voice::snare}}});
        const auto flams = song.placesOf(ProofKind::flam);
        QCOMPARE(flams.size(), std::size_t{1});
        QVERIFY(std::abs(flams.front().size - 8) < 0.1);
        // What was said of the distance is over when the other stroke moves.
        song.edit(ProofEdit{{{flams.front().kind, flams.front().content, ProofState::fine, {}}}});
        QCOMPARE(song.placesOf(ProofKind::flam).front().state, ProofState::fine);
        song.edit(DetectionEdit{Correct{
            {Correction::Kind::place, TakeLetter{'A'}, SourceFrame{12000 * 10}, FrameCount{-240}, Voice::kick}}});
        QCOMPARE(song.placesOf(ProofKind::flam).front().state, ProofState::open);
    }

    void aRushedPassageIsOnePlace() {
        std::vector<Candidate> kicks = eighths(60, 0);
        for (int i = 20; i < 30; ++i)
            kicks[static_cast<std::size_t>(i)].at =
                kicks[static_cast<std::size_t>(i)].at - FrameCount{3400 + 40 * (i - 20)};
        Song song(std::move(kicks));
        song.edit(TimingEdit{SetGrid{{1, 8}}});
        const auto far = song.placesOf(ProofKind::wrongLine);
        QCOMPARE(far.size(), std::size_t{1});
        QVERIFY2(QString::fromStdString(far.front().text).contains("a rushed passage"), far.front().text.c_str());
        QVERIFY(far.front().gravity() < 5);
    }

    void whatIsLostCanBeForgotten() {
        Song song(eighths(40));
        song.edit(DetectionEdit{
            Correct{{Correction::Kind::remove, TakeLetter{'A'}, SourceFrame{12000 * 5 + 5000}, {}, Voice::kick}}});
        const auto lost = song.placesOf(ProofKind::lostCorrection);
        QCOMPARE(lost.size(), std::size_t{1});
        const auto remedies = remediesFor(song.session, *song.outcome(), lost.front());
        QVERIFY(!remedies.empty());
        song.edit(remedies.front().edit);
        QVERIFY(song.placesOf(ProofKind::lostCorrection).empty());
    }

    /// "Fine" stays while nothing changes there, wherever else something does, and is over when it does.
    void anAnswerStandsAsLongAsItsPlace() {
        Song song(eighths(40));
        song.edit(DetectionEdit{Correct{{Correction::Kind::line, TakeLetter{'A'}, SourceFrame{12000 * 20 + 100},
                                         FrameCount{6000}, Voice::kick}}});
        const ProofPlace place = song.placesOf(ProofKind::wrongLine).front();
        song.edit(ProofEdit{{{place.kind, place.content, ProofState::fine, "as she plays it"}}});
        QCOMPARE(song.placesOf(ProofKind::wrongLine).front().state, ProofState::fine);
        QCOMPARE(song.placesOf(ProofKind::wrongLine).front().note, std::string("as she plays it"));
        song.edit(DetectionEdit{
            Correct{{Correction::Kind::pin, TakeLetter{'A'}, SourceFrame{12000 * 30 + 100}, {}, Voice::kick}}});
        QCOMPARE(song.placesOf(ProofKind::wrongLine).front().state, ProofState::fine);
        song.edit(DetectionEdit{Correct{{Correction::Kind::line, TakeLetter{'A'}, SourceFrame{12000 * 20 + 100},
                                         FrameCount{12000 - 5000}, Voice::kick}}});
        song.edit(DetectionEdit{Correct{{Correction::Kind::place, TakeLetter{'A'}, SourceFrame{12000 * 20 + 100},
                                         FrameCount{5500}, Voice::kick}}});
        const auto changed = song.placesOf(ProofKind::wrongLine);
        QVERIFY(changed.empty() || changed.front().state == ProofState::open);
        song.edit(ProofEdit{{{place.kind, place.content, ProofState::open, {}}}});
        QVERIFY(song.session.proofAnswers.empty());
    }

    void neighboursAreOneEntry() {
        std::vector<ProofPlace> places;
        const auto add = [&](std::int64_t at, ProofKind kind, double size) {
            ProofPlace place{{ResultFrame{at}, ResultFrame{at + 100}}, kind, size, "It is so"};
            places.push_back(place);
        };
        add(48000, ProofKind::click, 2);
        add(96000, ProofKind::click, 8); // a second behind it
        add(100000, ProofKind::dip, 5);
        add(480000, ProofKind::click, 3);
        const auto entries = entriesOf(places, MusicalMap(MapData{}, {48000}));
        QCOMPARE(entries.size(), std::size_t{3});
        QCOMPARE(entries.front().places.size(), std::size_t{2});
        QCOMPARE(entries.front().gravity, gravityOf(ProofKind::click, 8));
        QVERIFY(std::is_sorted(entries.begin(), entries.end(),
                               [](const ProofEntry& a, const ProofEntry& b) { return a.gravity > b.gravity; }));
    }
};

QTEST_APPLESS_MAIN(TestProof)
#include "tst_proof.moc"
